export { CustomerPage } from "./CustomerPage";
export { CustomersPage } from "./CustomersPage";
