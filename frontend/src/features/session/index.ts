export { sessionQuery, useChoosePerson } from "./api";
export { StartPage } from "./StartPage";
