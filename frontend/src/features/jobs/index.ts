export { jobsQuery } from "./api";
export { JobsPage } from "./JobsPage";
export { NewJobPage } from "./NewJobPage";
