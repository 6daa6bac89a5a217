import { useQuery } from "@tanstack/react-query";
import { cutterQuery, useSetCutter } from "../api";
import { DeviceAddress } from "./DeviceAddress";

/** Where the cutter is, and whether it answers. */
export function Cutter() {
  return (
    <DeviceAddress
      title="Cutter"
      hint="such as 127.0.0.1:8652; files can always be taken to it by hand"
      state={useQuery(cutterQuery()).data}
      set={useSetCutter()}
    />
  );
}
