export { ShelfCarPage } from "./ShelfCarPage";
export { ShelfPage } from "./ShelfPage";
