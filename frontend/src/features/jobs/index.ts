export { JobsPage } from "./JobsPage";
export { NewJobPage } from "./NewJobPage";
