export { DayPage } from "./DayPage";
