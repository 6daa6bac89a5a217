import type { useWindowChange } from "../../api";

export type ChangeWindow = (body: Parameters<ReturnType<typeof useWindowChange>["change"]>[1]) => void;
