import { useQuery } from "@tanstack/react-query";
import { meterQuery, useSetMeter } from "../api";
import { DeviceAddress } from "./DeviceAddress";

/** Where the light meter is, and whether it answers. */
export function LightMeter() {
  return (
    <DeviceAddress
      title="Light meter"
      hint="such as 127.0.0.1:8651; readings can always be typed by hand"
      state={useQuery(meterQuery()).data}
      set={useSetMeter()}
    />
  );
}
