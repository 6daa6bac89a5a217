import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { showLength, showRoll, type LengthUnit } from "./logic/format";
import { isOneOf, keepStored, readStored } from "./logic/stored";
import type { Setting } from "./theme";

interface Settings {
  setting: Setting;
  unit: LengthUnit;
  text: TextSize;
  setText: (text: TextSize) => void;
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
const TEXTS = ["normal", "large", "largest"] as const;
export type TextSize = (typeof TEXTS)[number];
const ROOT_SIZE: Record<TextSize, string> = { normal: "100%", large: "112.5%", largest: "125%" };

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
  const [text, setText] = useStored<TextSize>("elumbra.text", "normal", TEXTS);
  useEffect(() => {
    document.documentElement.style.fontSize = ROOT_SIZE[text];
  }, [text]);
  const value = useMemo(
    () => ({
      setting,
      unit,
      text,
      setText,
      setSetting,
      setUnit,
      showLength: (mm: number) => showLength(mm, unit),
      showRoll: (mm: number) => showRoll(mm, unit),
    }),
    [setting, unit, text, setSetting, setUnit, setText],
  );
  return <SettingsContext value={value}>{children}</SettingsContext>;
}

export function useSettings(): Settings {
  const settings = useContext(SettingsContext);
  if (!settings) throw new Error("useSettings needs its provider");
  return settings;
}
