import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import type { LengthUnit } from "./logic/format";
import type { Setting } from "./theme";

interface Settings {
  setting: Setting;
  unit: LengthUnit;
  setSetting: (setting: Setting) => void;
  setUnit: (unit: LengthUnit) => void;
}

const SettingsContext = createContext<Settings | null>(null);

function useStored<Value extends string>(key: string, fallback: Value, allowed: readonly Value[]) {
  const [value, setValue] = useState<Value>(() => {
    const stored = localStorage.getItem(key) as Value | null;
    return stored && allowed.includes(stored) ? stored : fallback;
  });
  useEffect(() => {
    localStorage.setItem(key, value);
  }, [key, value]);
  return [value, setValue] as const;
}

/** How this screen looks and counts; kept on this machine. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [setting, setSetting] = useStored<Setting>("elumbra.setting", "bench", ["bench", "bay-light", "bay-dark"]);
  const [unit, setUnit] = useStored<LengthUnit>("elumbra.unit", "in", ["in", "mm"]);
  const value = useMemo(() => ({ setting, unit, setSetting, setUnit }), [setting, unit, setSetting, setUnit]);
  return <SettingsContext value={value}>{children}</SettingsContext>;
}

export function useSettings(): Settings {
  const settings = useContext(SettingsContext);
  if (!settings) throw new Error("useSettings needs its provider");
  return settings;
}
