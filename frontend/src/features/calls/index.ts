export { CallsPage } from "./CallsPage";
export { HistoryPage } from "./HistoryPage";
export { RecallPage } from "./RecallPage";
