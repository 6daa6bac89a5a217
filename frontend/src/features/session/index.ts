export { useChoosePerson } from "./api";
export { StartPage } from "./StartPage";
