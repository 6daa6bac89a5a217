export { FilmPage } from "./FilmPage";
export { FilmsPage } from "./FilmsPage";
export { RackPage } from "./RackPage";
