import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { showLength, showRoll, type LengthUnit } from "./logic/format";
import { isOneOf, keepStored, readStored } from "./logic/stored";
import type { Setting } from "./theme";

interface Settings {
  setting: Setting;
  unit: LengthUnit;
  setSetting: (setting: Setting) => void;
  setUnit: (unit: LengthUnit) => void;
  /** A length as this screen shows lengths. */
  showLength: (mm: number) => string;
  /** A length along a roll as this screen shows it. */
  showRoll: (mm: number) => string;
}

const SettingsContext = createContext<Settings | null>(null);
const SETTINGS = ["bench", "bay-light", "bay-dark"] as const;
const UNITS = ["in", "mm"] as const;

function useStored<Value extends string>(key: string, fallback: Value, allowed: readonly Value[]) {
  const [value, setValue] = useState<Value>(() => readStored(localStorage, key, isOneOf(allowed), fallback));
  useEffect(() => {
    keepStored(localStorage, key, value);
  }, [key, value]);
  return [value, setValue] as const;
}

/** How this screen looks and counts; kept on this machine. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [setting, setSetting] = useStored<Setting>("elumbra.setting", "bench", SETTINGS);
  const [unit, setUnit] = useStored<LengthUnit>("elumbra.unit", "in", UNITS);
  const value = useMemo(
    () => ({
      setting,
      unit,
      setSetting,
      setUnit,
      showLength: (mm: number) => showLength(mm, unit),
      showRoll: (mm: number) => showRoll(mm, unit),
    }),
    [setting, unit, setSetting, setUnit],
  );
  return <SettingsContext value={value}>{children}</SettingsContext>;
}

export function useSettings(): Settings {
  const settings = useContext(SettingsContext);
  if (!settings) throw new Error("useSettings needs its provider");
  return settings;
}
