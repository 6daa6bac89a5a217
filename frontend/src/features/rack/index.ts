export { FilmPage } from "./FilmPage";
export { FilmsPage } from "./FilmsPage";
export { RackPage } from "./RackPage";
export { FilmListsPage } from "./FilmListsPage";
export { StockPage } from "./StockPage";
