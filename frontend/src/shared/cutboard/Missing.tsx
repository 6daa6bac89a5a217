import { Box, Button, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { FilmPlan } from "../../api/client";
import { showLength, type LengthUnit } from "../logic/format";
import { sure } from "../logic/short";

type Short = NonNullable<FilmPlan["short"]>;

/** What one touch does about film that is short. */
export interface Mends {
  piece: (item: FilmPlan["unplaced"][number]) => ReactNode;
  lessExtra: (windows: NonNullable<Short["less_extra"]>["windows"]) => void;
  otherFilm: (film: Short["other_films"][number]) => void;
}

interface Props {
  plan: FilmPlan;
  unit: LengthUnit;
  mends: Mends | null;
}

/** Pieces that the rack has no film for, and what would do. */
export function Missing({ plan, unit, mends }: Props) {
  const total = plan.unplaced.length + plan.pieces.length;
  return (
    <Box role="alert" sx={{ mb: 2 }}>
      <Typography component="p" sx={{ fontWeight: 700, fontSize: "1.4rem", color: "error.main" }}>
        {`${String(plan.unplaced.length)} of ${String(total)} pieces fit no ${plan.film_name} on the rack`}
      </Typography>
      {plan.short ? (
        <WhatWouldDo plan={plan} short={plan.short} unit={unit} mends={mends} />
      ) : (
        <Pull plan={plan} unit={unit} />
      )}
      <Box sx={{ borderLeft: 6, borderColor: "error.main", bgcolor: "background.paper", px: 1.5, py: 0.5 }}>
        {plan.unplaced.map((item) => (
          <Typography key={`${item.window_id} ${item.label}`} sx={{ py: 0.25 }}>
            <b>{item.label}.</b> {item.reason}{" "}
            {item.pull_width_mm && !plan.short
              ? `Pull a ${showLength(item.pull_width_mm, unit)} roll, ${showLength(item.length_needed_mm, unit)} of it.`
              : ""}{" "}
            {mends?.piece(item)}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}

/** The roll to pull for all of them, while nobody has worked out what is short. */
function Pull({ plan, unit }: Pick<Props, "plan" | "unit">) {
  const widths = plan.unplaced.map((item) => item.pull_width_mm);
  const widest = widths.includes(null) ? null : Math.max(...widths.map((width) => width ?? 0));
  return (
    <Typography sx={{ mb: 0.5 }}>
      {widest
        ? `A ${showLength(widest, unit)} roll of ${plan.film_name} holds them.`
        : "No customary roll is that wide: plan those panes in strips, or with less extra."}
    </Typography>
  );
}

/** More of the film, less extra, another film, or fewer windows: each with its touch. */
function WhatWouldDo({ plan, short, unit, mends }: Props & { short: Short }) {
  const length = (mm: number) => showLength(mm, unit);
  const less = short.less_extra;
  const most = short.most;
  return (
    <Box component="ol" aria-label="What would do" sx={{ listStyle: "none", m: 0, mb: 1, p: 0 }}>
      {(short.longer.length > 0 || short.new_rolls.length > 0) && (
        <Way
          touch={
            <Button component={Link} to="/rack" size="small">
              To the rack
            </Button>
          }
        >
          {short.longer.length > 0 && (
            <>
              <b>{sure(short.longer[0], short.longer[0]?.more_mm ?? 0, length)} more</b> on{" "}
              {short.longer[0]?.label}
              {short.longer.slice(1).map((one) => `, or ${sure(one, one.more_mm, length)} on ${one.label}`)}
              .{" "}
            </>
          )}
          {short.new_rolls.length > 0 &&
            `A new roll: ${short.new_rolls
              .map((one) => `${length(one.width_mm)} wide, ${sure(one, one.length_mm, length)} of it`)
              .join("; or ")}.`}
        </Way>
      )}
      {less && (
        <Way
          touch={
            mends && (
              <Button size="small" onClick={() => mends.lessExtra(less.windows)}>
                Take {length(less.less_mm)} less
              </Button>
            )
          }
        >
          <b>{length(less.less_mm)} less extra</b> each side on every hand-cut piece: all of it fits.
        </Way>
      )}
      {short.other_films.length > 0 && (
        <Way
          touch={
            mends &&
            short.other_films.map((one) => (
              <Button key={one.film_id} size="small" sx={{ ml: 1 }} onClick={() => mends.otherFilm(one)}>
                Put {one.film_name} on
              </Button>
            ))
          }
        >
          <b>Another film</b> clears on {short.other_films[0]?.labels.join(", ")}, with enough of it:{" "}
          {short.other_films.map((one) => one.film_name).join(", ")}. It changes the order.
        </Way>
      )}
      {most.windows > 0 && (
        <Way
          touch={
            <Button size="small" href={`#${cutNow(plan)}`}>
              Cut these {most.windows}
            </Button>
          }
        >
          <b>
            {most.windows} of {most.of} windows
          </b>{" "}
          now, the most that fits; later: {most.left_out.join(", ")}.
          {most.split.length > 0 && ` Cut without its twin: ${most.split.join(", ")}.`}
        </Way>
      )}
    </Box>
  );
}

/** Where a film's cuts stand on the page. */
export const cutNow = (plan: FilmPlan) => `cut-${plan.film_id}`;

function Way({ children, touch }: { children: ReactNode; touch: ReactNode }) {
  return (
    <Box
      component="li"
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "center",
        justifyContent: "space-between",
        py: 0.75,
        borderTop: 1,
        borderColor: "divider",
      }}
    >
      <Typography component="div">{children}</Typography>
      <Box sx={{ flexShrink: 0, "@media print": { display: "none" } }}>{touch}</Box>
    </Box>
  );
}
