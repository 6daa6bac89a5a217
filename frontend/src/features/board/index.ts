export { BoardPage } from "./BoardPage";
