export { useOwnSettings, useSignIn } from "./api";
export { MePage, Password } from "./MePage";
export { Frame, StartPage } from "./StartPage";
