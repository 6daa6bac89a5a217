import { useQuery } from "@tanstack/react-query";
import { sessionQuery } from "../api/queries";

/** Whether one person works here at home: then no lots, bays, certificates or passwords are shown. */
export function useHome(): boolean {
  return useQuery(sessionQuery()).data?.home ?? false;
}
