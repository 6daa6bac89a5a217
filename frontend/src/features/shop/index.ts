export { ShopPage } from "./ShopPage";
export { PricesPage } from "./PricesPage";
export { StandardPage } from "./StandardPage";
