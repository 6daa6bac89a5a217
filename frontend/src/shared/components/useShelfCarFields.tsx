import { useState, type ReactNode } from "react";
import { FieldGrid } from "../fields/layout";
import { TextLine } from "../fields/Fields";
import { focusWhenShown } from "../focus";
import { numberOf } from "../questions/reply";

interface Named {
  name: string;
  years: string;
  doors: number | null;
  trim: string;
}

/** The fields by which a car of the shelf is known, what they say, and whether that will do. */
export function useShelfCarFields(from: Named): {
  said: Named;
  ready: boolean;
  show: (refused: Readonly<Record<string, string>>) => ReactNode;
} {
  const [name, setName] = useState(from.name);
  const [years, setYears] = useState(from.years);
  const [doors, setDoors] = useState(from.doors === null ? "" : String(from.doors));
  const [trim, setTrim] = useState(from.trim);
  const many = numberOf(doors, 0, 8);
  return {
    said: { name: name.trim(), years: years.trim(), doors: many.value ?? null, trim: trim.trim() },
    ready: name.trim() !== "" && many.wrong === undefined,
    show: (refused) => (
      <FieldGrid>
        <TextLine
          label="Car"
          value={name}
          required
          problem={refused["name"]}
          onChange={setName}
          inputRef={focusWhenShown}
        />
        <TextLine
          label="Years"
          value={years}
          problem={refused["years"]}
          hint="2019 or 2019–2023"
          onChange={setYears}
        />
        <TextLine
          label="Doors"
          value={doors}
          problem={many.wrong ?? refused["doors"]}
          inputMode="numeric"
          onChange={setDoors}
        />
        <TextLine label="Trim notes" value={trim} problem={refused["trim"]} onChange={setTrim} />
      </FieldGrid>
    ),
  };
}
