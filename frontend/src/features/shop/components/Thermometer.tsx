import { useQuery } from "@tanstack/react-query";
import { thermometerStateQuery, useSetThermometer } from "../api";
import { DeviceAddress } from "./DeviceAddress";

/** Where the thermometer is, and whether it answers. */
export function Thermometer() {
  return (
    <DeviceAddress
      title="Thermometer"
      hint="such as 127.0.0.1:8653; temperatures can always be typed by hand"
      state={useQuery(thermometerStateQuery()).data}
      set={useSetThermometer()}
    />
  );
}
