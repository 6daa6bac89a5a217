export { KeepingPage } from "./KeepingPage";
