import { READING_LABELS } from "../../../api/words";

/** A reading's name at the head of its field. */
export function readingLabel(key: string): string {
  return (READING_LABELS as Record<string, string>)[key] ?? key.replace(/_/g, " ");
}

/** Further readings on file that the pane's level does not ask for. */
export function furtherReadings(onFile: readonly string[]): string[] {
  return onFile.filter((key) => key.includes("_to_") || key.startsWith("mid_"));
}
