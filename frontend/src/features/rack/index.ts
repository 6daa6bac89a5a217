export { rackQuery } from "./api";
export { FilmsPage } from "./FilmsPage";
export { RackPage } from "./RackPage";
