export { ConfirmPage } from "./ConfirmPage";
export { LookUpPage } from "./LookUpPage";
export { RulePage } from "./RulePage";
export { RulesPage } from "./RulesPage";
