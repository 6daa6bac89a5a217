export { PracticePage } from "./PracticePage";
export { RunPage } from "./RunPage";
