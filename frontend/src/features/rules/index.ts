export { ruleBookQuery } from "./api";
export { LookUpPage } from "./LookUpPage";
export { RulePage } from "./RulePage";
export { RulesPage } from "./RulesPage";
