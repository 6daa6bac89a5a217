export { sitDown } from "./bayQueue";
export { JobPage } from "./JobPage";
