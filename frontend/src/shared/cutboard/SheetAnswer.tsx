import type { FilmPlan } from "../../api/client";
import { Answer } from "../components/states";
import { showLength, type LengthUnit } from "../logic/format";

/** Whether all goes on the sheet, by how much, and the least one that does. */
export function SheetAnswer({ sheet, unit }: { sheet: NonNullable<FilmPlan["sheet"]>; unit: LengthUnit }) {
  const { needed_mm: needed, length_mm: length, least_width_mm: width, least_length_mm: least } = sheet;
  const outlines = sheet.by_outlines;
  const best = outlines ?? sheet;
  const fits = best.needed_mm !== null && best.needed_mm <= length + 0.01;
  return (
    <Answer
      tone={fits ? "good" : "bad"}
      why={
        outlines === null ? (
          leastWords(width, least, unit)
        ) : (
          <>
            Cut along the outlines, {showLength(outlines.play_mm, unit)} all round:{" "}
            {leastWords(outlines.least_width_mm, outlines.least_length_mm, unit)}
            <br />
            As blanks: {onSheetWords(needed, length, unit).toLowerCase()}. {leastWords(width, least, unit)}
          </>
        )
      }
    >
      {onSheetWords(best.needed_mm, length, unit)}
    </Answer>
  );
}

function onSheetWords(needed: number | null, length: number, unit: LengthUnit): string {
  if (needed === null) return "Too wide for this sheet";
  return needed <= length + 0.01
    ? `Fits, ${showLength(Math.max(0, length - needed), unit)} over`
    : `${showLength(needed - length, unit)} short`;
}

function leastWords(width: number | null, length: number | null, unit: LengthUnit): string {
  return width !== null && length !== null
    ? `The least sheet that does: ${showLength(width, unit)} × ${showLength(length, unit)}.`
    : "No customary sheet holds all of it: cut from a roll.";
}
