import { Box, Button } from "@mui/material";
import { Link } from "react-router";
import type { Sheet } from "../api";
import { dayAfter, shortDay } from "../logic/zone";

/** The days to come, each with its cars; the one that is shown is marked. */
export function DayLine({ sheet }: { sheet: Sheet }) {
  const shown = sheet.days.slice(0, 7);
  return (
    <Box
      component="nav"
      aria-label="Days"
      sx={{ display: "flex", gap: 0.75, mb: 1.5, overflowX: "auto", py: 0.25 }}
    >
      <Button
        component={Link}
        to={`/day/${dayAfter(sheet.day, -1)}`}
        aria-label="The day before"
        sx={{ minWidth: 44, flexShrink: 0 }}
      >
        ‹
      </Button>
      {!shown.some((one) => one.day === sheet.day) && (
        <Button variant="contained" sx={{ whiteSpace: "nowrap", flexShrink: 0 }}>
          {shortDay(sheet.day)}
        </Button>
      )}
      {shown.map((one) => (
        <Button
          key={one.day}
          component={Link}
          to={`/day/${one.day}`}
          variant={one.day === sheet.day ? "contained" : "outlined"}
          aria-current={one.day === sheet.day ? "date" : undefined}
          sx={{
            whiteSpace: "nowrap",
            flexShrink: 0,
            px: 1.25,
            ...(one.open ? {} : { borderStyle: "dashed" }),
          }}
        >
          {shortDay(one.day)}
          <Box component="span" sx={{ ml: 0.75, fontWeight: 500 }}>
            {one.cars ? `${one.cars} ${one.cars === 1 ? "car" : "cars"}` : one.open ? "free" : "closed"}
          </Box>
        </Button>
      ))}
      <Button
        component={Link}
        to={`/day/${dayAfter(sheet.day, 1)}`}
        aria-label="The day after"
        sx={{ minWidth: 44, flexShrink: 0 }}
      >
        ›
      </Button>
      <Box sx={{ flexGrow: 1 }} />
      <Button component="a" href={`/api/days/${sheet.day}/sheet.pdf`} target="_blank" variant="text">
        Print
      </Button>
      <Button
        component="a"
        href="/api/calendar.ics"
        download
        variant="text"
        sx={{ whiteSpace: "nowrap", flexShrink: 0 }}
      >
        Calendar file
      </Button>
    </Box>
  );
}
