/**
 * Lengths as typed on a tape; the same rules as the server's parser and the same table of
 * cases. What the server says decides: this one only answers while the hand is on the key.
 */
export type Parsed = { ok: true; mm: number } | { ok: false; reason: string };

const MM_PER_INCH = 25.4;
const TAPE_DENOMINATORS = [2, 4, 8, 16, 32, 64];
const VULGAR: Record<string, string> = {
  "½": "1/2",
  "¼": "1/4",
  "¾": "3/4",
  "⅛": "1/8",
  "⅜": "3/8",
  "⅝": "5/8",
  "⅞": "7/8",
};
const MEND = "Type it as on the tape: 39 3/8, 3' 3 1/4, 39.375 or 1000 mm.";
const METRIC = /^(\d+(?:\.\d+)?|\.\d+) ?(mm|cm|m)$/;
const IMPERIAL =
  /^(?:(?<feet>\d+(?:\.\d+)?|\.\d+) ?(?:'|ft|feet|foot)[ -]?)?(?:(?:(?<decimal>\d+\.\d*|\.\d+)|(?<whole>\d+)(?:[ -](?<num>\d+)\/(?<den>\d+))?|(?<onlyNum>\d+)\/(?<onlyDen>\d+)) ?(?:"|inches|inch|in)?)?$/;

export function parseLength(text: string): Parsed {
  const typed = text.trim();
  if (!typed) return refuse(`No size typed. ${MEND}`);
  const plain = plainText(typed);
  if (plain.startsWith("-")) return refuse(`“${typed}” is negative; a size is more than nothing. ${MEND}`);
  const metric = METRIC.exec(plain);
  if (metric) {
    const factor = { mm: 1, cm: 10, m: 1000 }[metric[2] as "mm" | "cm" | "m"];
    return { ok: true, mm: Number(metric[1]) * factor };
  }
  const imperial = IMPERIAL.exec(plain)?.groups;
  if (!imperial || plain === '"' || plain === "in") return refuse(`“${typed}” is not a size. ${MEND}`);
  return fromInches(imperial, typed);
}

function plainText(typed: string): string {
  let plain = typed.toLowerCase().replace(/[−–]/g, "-");
  for (const [glyph, ascii] of Object.entries(VULGAR)) plain = plain.replaceAll(glyph, ` ${ascii}`);
  return plain
    .replace(/''|[″”“]/g, '"')
    .replace(/[′’‘]/g, "'")
    .replaceAll("⁄", "/")
    .replace(/\s*\/\s*/g, "/")
    .replace(/\s+/g, " ")
    .trim();
}

function fromInches(parts: Record<string, string | undefined>, typed: string): Parsed {
  let inches = 0;
  if (parts["decimal"]) inches = Number(parts["decimal"]);
  else if (parts["whole"]) inches = Number(parts["whole"]);
  const [num, den] = [parts["num"] ?? parts["onlyNum"], parts["den"] ?? parts["onlyDen"]];
  if (num !== undefined && den !== undefined) {
    if (!TAPE_DENOMINATORS.includes(Number(den)))
      return refuse(
        `“${typed}” has a fraction in ${den}ths; a tape has halves, 4ths, 8ths, 16ths, 32nds and 64ths.`,
      );
    if (Number(num) >= Number(den))
      return refuse(`“${typed}” has a fraction of one inch or more; carry it into the inches.`);
    inches += Number(num) / Number(den);
  }
  if (parts["feet"]?.includes(".") && Number(parts["feet"]) % 1 !== 0 && inches > 0)
    return refuse(`“${typed}” has a part of a foot and inches after it; type one or the other. ${MEND}`);
  if (parts["feet"] && inches >= 12)
    return refuse(
      `“${typed}” has ${String(inches)} inches after the feet; that part runs from 0 to under 12. ${MEND}`,
    );
  return { ok: true, mm: (Number(parts["feet"] ?? 0) * 12 + inches) * MM_PER_INCH };
}

function refuse(reason: string): Parsed {
  return { ok: false, reason };
}

/** A length as a tape shows it, to the nearest sixteenth. */
export function formatInches(mm: number, denominator = 16): string {
  const sign = mm < 0 ? "-" : "";
  const steps = halfToEven((Math.abs(mm) / MM_PER_INCH) * denominator);
  const whole = Math.floor(steps / denominator);
  const rest = steps % denominator;
  if (rest === 0) return `${whole ? sign : ""}${String(whole)}`;
  let [num, den] = [rest, denominator];
  while (num % 2 === 0) [num, den] = [num / 2, den / 2];
  const fraction = `${String(num)}/${String(den)}`;
  return whole ? `${sign}${String(whole)} ${fraction}` : `${sign}${fraction}`;
}

function halfToEven(value: number): number {
  const floor = Math.floor(value);
  if (value - floor !== 0.5) return Math.round(value);
  return floor % 2 === 0 ? floor : floor + 1;
}

const BARE = /^(\d+(?:\.\d*)?|\.\d+)$/;

/**
 * A length with the unit that a bare number means: inches or millimetres by the screen's setting,
 * and feet or metres along a roll. What has a unit or a fraction stays as it was typed.
 */
export function withUnit(text: string, unit: "in" | "mm", along: "size" | "roll" = "size"): string {
  const typed = text.trim();
  if (!BARE.test(typed)) return typed;
  if (along === "roll") return `${typed} ${unit === "in" ? "ft" : "m"}`;
  return unit === "in" ? typed : `${typed} mm`;
}
