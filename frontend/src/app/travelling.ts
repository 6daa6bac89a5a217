import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { useOwnSettings } from "../features/session";
import { useSettings } from "../shared";

export type Session = Schemas["SessionOut"];
type Seated = NonNullable<Session["person"]>;

/** Units, look and text size go with the person: taken from the server when he sits down, kept there when changed. */
export function useTravelling(person: Seated | null): void {
  const settings = useSettings();
  const own = useOwnSettings();
  const { unit, setting, text, setUnit, setSetting, setText } = settings;
  const seated = useRef<string | null>(null);
  useEffect(() => {
    if (person === null) {
      seated.current = null;
      return;
    }
    if (seated.current !== person.id) {
      seated.current = person.id;
      if (person.settings.unit) setUnit(person.settings.unit);
      if (person.settings.setting) setSetting(person.settings.setting);
      if (person.settings.text) setText(person.settings.text);
    }
  }, [person, setUnit, setSetting, setText]);
  const before = useRef({ unit, setting, text });
  const { write } = own;
  useEffect(() => {
    const last = before.current;
    if (last.unit === unit && last.setting === setting && last.text === text) return;
    before.current = { unit, setting, text };
    if (person === null || seated.current !== person.id) return;
    const kept = person.settings;
    if (kept.unit === unit && kept.setting === setting && kept.text === text) return;
    write({ settings: { unit, setting, text }, version: person.settings_version });
    // Only what this screen changes is sent; what came from the server just now is not sent back.
  }, [unit, setting, text, person, write]);
}
