import type { Job, JobWindow } from "../../../api/client";

export const POSITIONS: Record<JobWindow["position"], string> = {
  windshield: "windshield",
  front_side: "front side",
  rear_side: "rear side",
  rear_window: "rear window",
  roof: "roof",
};
export const KINDS: Record<JobWindow["kind"], string> = {
  framed_door: "framed door",
  frameless_door: "frameless door",
  quarter: "quarter or vent",
  fixed_side: "fixed side",
  back_glass: "back glass",
  hatch: "hatch glass",
  slider: "slider part",
  windshield: "windshield",
  sunroof: "sunroof",
};
export const GLASS: Record<JobWindow["glass_type"], string> = {
  tempered: "tempered",
  laminated: "laminated",
  coated: "coated",
  plastic: "plastic: takes no film",
  unknown: "not read yet",
};
export const CURVES: Record<JobWindow["curve"], string> = {
  flat: "flat",
  one_way: "bowed one way",
  both_ways: "curved both ways",
  strong: "strongly curved",
};
export type RegisteredAs = NonNullable<Job["registered_as"]>;
export const REGISTERED_AS: Record<RegisteredAs, string> = {
  sedan: "sedan",
  coupe: "coupe",
  hatchback: "hatchback",
  station_wagon: "station wagon",
  hardtop: "hardtop",
  convertible: "convertible",
  suv: "SUV (multipurpose, suburban)",
  minivan: "minivan",
  van: "van",
  pickup: "pickup",
  truck: "truck",
  bus: "bus",
  limousine: "limousine",
  motor_home: "motor home",
};
export const REASONS: Record<NonNullable<JobWindow["reason"]>["kind"], string> = {
  declined_film_changed: "We declined; a lawful film goes on",
  medical_exemption: "Medical exemption",
  off_road_or_show: "Off-road or show vehicle, owner’s statement",
};
export const FEATURES: Record<JobWindow["features"][number], string> = {
  antenna: "antenna in it",
  defroster: "defroster lines",
  camera: "camera or sensor",
  brake_light: "brake light",
  chip: "chipped or pitted",
};
export const READING_LABELS: Record<string, string> = {
  width: "Greatest width",
  height: "Greatest height",
  bottom: "Bottom",
  top: "Top",
  left: "Left side",
  right: "Right side",
  diagonal_rising: "Diagonal ↗",
  diagonal_falling: "Diagonal ↘",
  strip_depth: "Strip depth from the top",
  as1_depth: "AS-1 line from the top",
  strip_above_seat: "Strip’s edge above the seat",
  housing_width: "Housing width",
  housing_depth: "Housing depth from the top",
  crown_across: "Crown across",
  crown_up: "Crown up",
};

/** Readings a window is asked for at its level, in the order a hand walks round the pane. */
export function readingKeys(window: JobWindow): string[] {
  if (window.level === "size") return ["width", "height"];
  if (window.figure === "three") return ["bottom", "left", "right"];
  return ["bottom", "top", "left", "right", "diagonal_rising", "diagonal_falling"];
}

/** Readings that refine a shape: bows, radii, crowns. */
export function optionalKeys(window: JobWindow): [string, string][] {
  const crowns: [string, string][] = [["crown_across", "Crown across, gap at mid-width"], ["crown_up", "Crown up, gap at mid-height"]];
  if (window.level === "size") return crowns;
  const edges = window.figure === "three" ? ["bottom", "right", "left"] : ["bottom", "right", "top", "left"];
  const corners = window.figure === "three" ? ["bottom_left", "bottom_right", "top"] : ["bottom_left", "bottom_right", "top_right", "top_left"];
  return [
    ...edges.map((edge): [string, string] => [`bow_${edge}`, `Bow of the ${edge}, outward`]),
    ...corners.map((corner): [string, string] => [`radius_${corner}`, `Radius, ${corner.replace("_", " ")}`]),
    ...crowns,
  ];
}

export type Tick = "done" | "open" | "trouble";

/** Whether a window is through a station, waits there, or is held there. */
export function ticks(window: JobWindow, cutMarks: ReadonlySet<string>): { survey: Tick; shade: Tick; cut: Tick } {
  const measured = window.pane.ring.length > 0 && window.pane.missing.length === 0;
  const survey = window.pane.fit?.alarm ? "trouble" : measured ? "done" : "open";
  const shade = window.worst === null ? "open" : window.worst === "Clears" ? "done" : "trouble";
  const cut = window.film_id === null ? "open" : cutMarks.has(window.id) ? "done" : window.cannot_cut ? "trouble" : "open";
  return { survey, shade, cut };
}

/** Groups of windows that a film is commonly put on at once. */
export function filmGroups(job: Job, window: JobWindow | undefined): { words: string; ids: string[] }[] {
  const glass = job.windows.filter((w) => w.position !== "windshield" && w.position !== "roof" && w.glass_type !== "plastic");
  const ids = (chosen: JobWindow[]) => chosen.map((w) => w.id);
  const groups = [
    { words: "Both fronts", ids: ids(glass.filter((w) => w.position === "front_side")) },
    { words: "All behind the driver", ids: ids(glass.filter((w) => w.position !== "front_side")) },
    { words: "All but the windshield", ids: ids(glass) },
  ];
  const here = window ? [{ words: window.label, ids: [window.id] }] : [];
  return [...here, ...groups].filter((group) => group.ids.length > 0);
}
