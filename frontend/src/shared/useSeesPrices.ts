import { useQuery } from "@tanstack/react-query";
import { sessionQuery } from "../api/queries";

/** Whether who sits here sees prices; to others no sum is sent, so that they are not asked for one either. */
export function useSeesPrices(): boolean {
  return useQuery(sessionQuery()).data?.person?.prices ?? false;
}
