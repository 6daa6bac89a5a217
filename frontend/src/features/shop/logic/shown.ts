import { formatInches, parseLength, withUnit, type LengthUnit } from "../../../shared";

interface Shown {
  unit: string;
  show: (value: number) => string;
  /** What was typed, in the figure's own unit; NaN where it is none. */
  read: (text: string) => number;
}

const MM2_PER_IN2 = 25.4 * 25.4;

/** How a figure kept in a unit is shown and typed on a screen that shows inches or millimetres. */
export function shownAs(kept: string, unit: LengthUnit): Shown {
  if (unit === "in" && kept === "mm")
    return {
      unit: "in",
      show: (mm) => formatInches(mm, 64),
      read: (text) => {
        const parsed = parseLength(withUnit(text, unit));
        return parsed.ok ? parsed.mm : NaN;
      },
    };
  if (unit === "in" && kept === "mm²")
    return {
      unit: "in²",
      show: (area) => String(Math.round(area / MM2_PER_IN2)),
      read: (text) => numberIn(text) * MM2_PER_IN2,
    };
  return { unit: kept, show: String, read: numberIn };
}

function numberIn(text: string): number {
  return text.trim() === "" ? NaN : Number(text);
}
