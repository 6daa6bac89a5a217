import { Box, Table, TableBody, TableCell, TableRow, Typography, useTheme } from "@mui/material";
import { Fractions, Ruled, showLength, useSettings } from "../../../../shared";
import type { ShrinkView } from "../../heat";
import { boxOf, path } from "../../logic/heat";

/** What to set, press and mind, beside the map. */
export function HeatSide({ view }: { view: ShrinkView }) {
  const { unit } = useSettings();
  const length = (mm: number) => showLength(mm, unit);
  const { anchor } = view;
  const shrinks = view.zones.filter((zone) => zone.fingers > 0);
  return (
    <Box>
      <Ruled title={anchor.turned ? "The line, from the left edge" : "Cross line, above the foot"}>
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1, mt: 0.5 }}>
          {(
            [
              [anchor.turned ? "at the foot" : "left", anchor.side_heights_mm[0] ?? 0],
              ["middle", anchor.height_mm],
              [anchor.turned ? "at the head" : "right", anchor.side_heights_mm[1] ?? 0],
            ] as const
          ).map(([where, mm]) => (
            <Box key={where}>
              <Typography variant="size" sx={{ fontSize: 18, whiteSpace: "nowrap" }}>
                <Fractions text={length(mm)} />
              </Typography>
              <Typography variant="body2" color="text.secondary">
                {where}
              </Typography>
            </Box>
          ))}
        </Box>
        <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
          Left and right are read {length(Math.abs(anchor.side_places_mm[1] ?? 0))} from the middle.
          {shrinks.length > 0 && ` Side lines of the H ${length(view.from_edges_mm)} in from the edges.`}
        </Typography>
      </Ruled>
      {view.school.length > 0 && (
        <Ruled title="School">
          {view.school.map((one) => (
            <Box key={one.ask} sx={{ mt: 0.5 }}>
              <Typography sx={{ fontWeight: 700 }}>
                {one.words}
                {one.overruled && " (the shop’s way)"}
              </Typography>
              <Typography variant="body2" color="text.secondary">
                {one.why} Handbook {one.section}.
              </Typography>
            </Box>
          ))}
        </Ruled>
      )}
      {shrinks.length > 0 && (
        <Ruled title={`Fingers, an estimate; about ${Math.round(view.minutes)} min`}>
          <Table size="small">
            <TableBody>
              {shrinks.map((zone) => (
                <TableRow key={zone.quarter}>
                  <TableCell sx={{ pl: 0 }}>{zone.quarter}</TableCell>
                  <TableCell>{zone.words}</TableCell>
                  <TableCell>
                    {zone.fingers} about {length(zone.finger_height_mm)} high
                  </TableCell>
                  <TableCell sx={{ pr: 0 }}>{zone.word}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          {!view.ridges_shrink && (
            <Typography sx={{ mt: 0.5 }}>
              Ridges run along the pane: the film is turned, so they still lie across the roll’s direction.
            </Typography>
          )}
        </Ruled>
      )}
      <Ruled title="The glass, across and up">
        <Profile points={view.profile_across} words="across" />
        <Profile points={view.profile_up} words="up" />
      </Ruled>
    </Box>
  );
}

/** The glass under a straightedge: the gap drawn five times as deep as it is. */
function Profile({ points, words }: { points: number[][]; words: string }) {
  const { inks } = useTheme();
  const { unit } = useSettings();
  const deepest = Math.max(...points.map((point) => point[1] ?? 0), 0);
  const long = points.at(-1)?.[0] ?? 0;
  const deep = points.map(([along = 0, gap = 0]) => [along, 5 * gap]);
  const box = boxOf(
    [
      deep,
      [
        [0, 0],
        [long, 0],
      ],
    ],
    8,
  );
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 0.5 }}>
      <svg
        viewBox={`0 0 ${box.width} ${box.height}`}
        style={{ flex: 1, maxHeight: 60, minWidth: 0 }}
        aria-hidden="true"
      >
        <path
          d={path(
            [
              [0, 0],
              [long, 0],
            ],
            box,
            false,
          )}
          stroke={inks.rule}
          strokeWidth={4}
          fill="none"
        />
        <path d={path(deep, box, false)} stroke={inks.ink} strokeWidth={8} fill="none" />
      </svg>
      <Typography variant="body2" sx={{ width: 150, flexShrink: 0 }}>
        {words}: {showLength(deepest, unit)} over {showLength(long, unit)}
      </Typography>
    </Box>
  );
}
