export { QuickPage } from "./QuickPage";
