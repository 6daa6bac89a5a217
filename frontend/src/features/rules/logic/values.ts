/** What can stand in a field of a law record, and how it is put together. */
export type Editor =
  | {
      kind: "tag";
      choices: [string, string][];
      numeric: string;
      figure: "value" | "percent" | "points";
      unit: string;
    }
  | { kind: "choice"; choices: [string, string][] }
  | { kind: "yes_no" }
  | { kind: "number"; unit: string; empty: string }
  | { kind: "list" }
  | { kind: "day"; empty: string }
  | { kind: "text" };

const FLOOR: Editor = {
  kind: "tag",
  numeric: "floor",
  figure: "value",
  unit: "% at least",
  choices: [
    ["floor", "at least …"],
    ["no_floor", "any darkness"],
    ["none_allowed", "no film"],
    ["unknown", "not known"],
  ],
};
const REFLECTION: Editor = {
  kind: "tag",
  numeric: "numeric",
  figure: "percent",
  unit: "% at most",
  choices: [
    ["numeric", "at most …"],
    ["non_mirror", "no mirror finish"],
    ["non_reflective", "non-reflective, no figure"],
    ["no_rule", "the law sets nothing"],
    ["unknown", "not known"],
  ],
};
const COVERS: Editor = {
  ...FLOOR,
  choices: [
    ["floor", "covers it, at least …"],
    ["no_floor", "covers it, any darkness"],
    ["none_allowed", "does not cover it"],
    ["unknown", "not recorded"],
  ],
};
const TOLERANCE: Editor = {
  kind: "tag",
  numeric: "granted",
  figure: "points",
  unit: "points",
  choices: [
    ["granted", "granted"],
    ["none", "none"],
    ["unknown", "not known"],
  ],
};
const STRIP: [string, string][] = [
  ["inches", "inches from the top"],
  ["as1", "the AS-1 line"],
  ["longer", "AS-1 or inches, the longer"],
  ["shorter", "AS-1 or inches, the shorter"],
  ["as1_else_inches", "AS-1, inches where there is none"],
  ["as1_or_inches", "AS-1 or inches, not known which"],
  ["seat_height", "inches above the driver’s seat"],
  ["as_below", "no separate strip"],
  ["none", "no strip"],
  ["unknown", "not known"],
];

/** Which editor a field takes, by its path. */
export function editorOf(path: string): Editor {
  if (path.startsWith("reflectance.")) return REFLECTION;
  if (path.startsWith("clauses.")) return { kind: "yes_no" };
  if (path.startsWith("readings.") || path === "mirrors_required_if_rear_tinted") return { kind: "yes_no" };
  if (path.startsWith("exemption.") && !path.endsWith(".means") && !path.endsWith(".issued_until"))
    return COVERS;
  if (path.endsWith(".strip")) return { kind: "choice", choices: STRIP };
  if (path.endsWith(".strip_inches")) return { kind: "number", unit: "in", empty: "no inches" };
  switch (path) {
    case "tolerance_points":
      return TOLERANCE;
    case "basis":
      return {
        kind: "choice",
        choices: [
          ["net", "glass and film together"],
          ["film", "the film by itself"],
        ],
      };
    case "reflectance_of":
      return {
        kind: "choice",
        choices: [
          ["film", "the film"],
          ["window", "glass and film together"],
          ["either", "not settled: whichever is more"],
        ],
      };
    case "works_inside_tolerance":
      return { kind: "yes_no" };
    case "banned_colours":
      return { kind: "list" };
    case "banned_colours_where":
      return {
        kind: "choice",
        choices: [
          ["all", "every window"],
          ["windshield", "the windshield only"],
        ],
      };
    case "mirrors_else_vlt":
      return { kind: "number", unit: "%", empty: "no such figure" };
    case "sticker_or_label":
      return {
        kind: "choice",
        choices: [
          ["required", "required"],
          ["not required", "not required"],
          ["unknown", "not known"],
        ],
      };
    case "medical_exemption":
      return {
        kind: "choice",
        choices: [
          ["yes", "yes"],
          ["limited", "limited"],
          ["no", "no"],
          ["unknown", "not known"],
        ],
      };
    case "exemption.means":
      return {
        kind: "choice",
        choices: [
          ["film", "film"],
          ["device", "a removable device, not film"],
          ["unknown", "not known"],
        ],
      };
    case "exemption.issued_until":
      return { kind: "day", empty: "still granted" };
    case "statute":
      return { kind: "text" };
    default:
      return FLOOR;
  }
}

/** A plain value as text; anything else is shown as it is written in the file. */
function textOf(value: unknown): string {
  return typeof value === "string" ? value : JSON.stringify(value);
}

/** What the editor's fields show for a value. */
export function draftOf(editor: Editor, value: unknown): { choice: string; figure: string } {
  switch (editor.kind) {
    case "tag": {
      const tag = (value ?? {}) as Record<string, unknown>;
      const kind = textOf(tag["kind"] ?? "unknown");
      const known = editor.choices.some(([name]) => name === kind) ? kind : "unknown";
      return { choice: known, figure: tag[editor.figure] === undefined ? "" : String(tag[editor.figure]) };
    }
    case "yes_no":
      return { choice: value === true ? "yes" : value === false ? "no" : "unknown", figure: "" };
    case "choice":
      return { choice: textOf(value ?? ""), figure: "" };
    case "number":
      return { choice: "", figure: value === null || value === undefined ? "" : textOf(value) };
    case "list":
      return { choice: "", figure: Array.isArray(value) ? value.join(", ") : "" };
    case "day":
    case "text":
      return { choice: "", figure: textOf(value ?? "") };
  }
}

/** The value that the editor's fields make; undefined while they make none. */
export function valueOf(editor: Editor, draft: { choice: string; figure: string }): unknown {
  const text = draft.figure.trim();
  switch (editor.kind) {
    case "tag":
      if (draft.choice !== editor.numeric) return { kind: draft.choice };
      return text === "" || Number.isNaN(Number(text))
        ? undefined
        : { kind: draft.choice, [editor.figure]: Number(text) };
    case "yes_no":
      return draft.choice === "unknown" ? null : draft.choice === "yes";
    case "choice":
      return draft.choice || undefined;
    case "number":
      return text === "" ? null : Number.isNaN(Number(text)) ? undefined : Number(text);
    case "list":
      return text === ""
        ? []
        : text
            .split(",")
            .map((word) => word.trim().toLowerCase())
            .filter(Boolean);
    case "day":
      return text;
    case "text":
      return text || undefined;
  }
}
