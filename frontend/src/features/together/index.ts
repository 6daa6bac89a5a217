export { TogetherPage } from "./TogetherPage";
