import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";

type HoursOf = NonNullable<Schemas["PersonCard"]["hours"]>;
type Span = Schemas["ClockSpan"];
type Weekday = keyof HoursOf;

const WEEKDAYS: readonly (readonly [Weekday, string])[] = [
  ["mon", "Monday"],
  ["tue", "Tuesday"],
  ["wed", "Wednesday"],
  ["thu", "Thursday"],
  ["fri", "Friday"],
  ["sat", "Saturday"],
  ["sun", "Sunday"],
];

/** “08:00-12:00, 12:30-17:00” as spans; null where that is not what it says. */
export function spansOf(text: string): Span[] | null {
  const parts = text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);
  const found: Span[] = [];
  for (const part of parts) {
    const match = /^(\d{1,2}):?(\d{2})?\s*(?:-|–|to)\s*(\d{1,2}):?(\d{2})?$/.exec(part);
    if (!match) return null;
    const [, h1 = "", m1 = "00", h2 = "", m2 = "00"] = match;
    if (Number(h1) > 23 || Number(h2) > 23 || Number(m1) > 59 || Number(m2) > 59) return null;
    found.push({ start: `${h1.padStart(2, "0")}:${m1}`, end: `${h2.padStart(2, "0")}:${m2}` });
  }
  return found;
}

export const wordsOf = (spans: readonly Span[] | undefined): string =>
  (spans ?? []).map((one) => `${one.start}-${one.end}`).join(", ");

/** Hours by weekday, typed as people write them; lunch is the gap between two spans. */
export function Hours({
  title,
  hours,
  asShop = false,
  disabled = false,
  onKeep,
}: {
  title: string;
  hours: HoursOf | null;
  /** There are the shop's hours to go back to. */
  asShop?: boolean;
  disabled?: boolean;
  onKeep: (hours: HoursOf | null) => void;
}) {
  const [open, setOpen] = useState(hours !== null);
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(WEEKDAYS.map(([day]) => [day, wordsOf(hours?.[day])])),
  );
  const wrong = WEEKDAYS.filter(([day]) => spansOf(typed[day] ?? "") === null);
  const keep = () => {
    const said: HoursOf = {};
    for (const [day] of WEEKDAYS) {
      const spans = spansOf(typed[day] ?? "");
      if (spans && spans.length) said[day] = spans;
    }
    onKeep(said);
  };
  return (
    <Box sx={{ my: 1.5 }}>
      <Typography variant="h3">{title}</Typography>
      {!open && (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <Typography>As the shop.</Typography>
          {!disabled && <Button onClick={() => setOpen(true)}>Own hours</Button>}
        </Box>
      )}
      {open && (
        <>
          <Box
            sx={{
              display: "grid",
              gridTemplateColumns: "repeat(auto-fill, minmax(220px, 1fr))",
              gap: 1.5,
              my: 1,
            }}
          >
            {WEEKDAYS.map(([day, words]) => (
              <TextField
                key={day}
                label={words}
                value={typed[day] ?? ""}
                disabled={disabled}
                placeholder="not here"
                error={wrong.some(([one]) => one === day)}
                helperText={wrong.some(([one]) => one === day) ? "As 08:00-12:00, 12:30-17:00" : undefined}
                onChange={(event) => setTyped({ ...typed, [day]: event.target.value })}
              />
            ))}
          </Box>
          {!disabled && (
            <Box sx={{ display: "flex", gap: 1 }}>
              <Button variant="contained" disabled={wrong.length > 0} onClick={keep}>
                Keep the hours
              </Button>
              {asShop && (
                <Button
                  onClick={() => {
                    setOpen(false);
                    onKeep(null);
                  }}
                >
                  As the shop
                </Button>
              )}
            </Box>
          )}
        </>
      )}
    </Box>
  );
}
