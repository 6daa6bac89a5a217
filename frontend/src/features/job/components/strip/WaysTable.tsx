import { Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { Schemas } from "../../../../api/client";
import { range, type StripWindow } from "../../stations/StripStation";

type Way = Schemas["StripWayOut"];

/** The ways, best first, with time, what they leave, what they risk and cost; refused ones with the reason. */
export function WaysTable({
  here,
  onChoose,
}: {
  here: StripWindow;
  onChoose: (way: Way["way"] | null) => void;
}) {
  const chosen = here.chosen ?? here.ways[0]?.way;
  const weighs = here.ways[0]?.reasons.slice(1) ?? [];
  return (
    <>
      <Typography color="text.secondary">Estimates: {here.ways[0]?.basis}.</Typography>
      {weighs.length > 0 && <Typography>{weighs.join(" ")}</Typography>}
      <Table size="small" aria-label={`Ways for ${here.label}`}>
        <TableHead>
          <TableRow>
            <TableCell>Way</TableCell>
            <TableCell>Work, min</TableCell>
            <TableCell>Wait, min</TableCell>
            <TableCell>Clean peel</TableCell>
            <TableCell>Glue, min</TableCell>
            <TableCell>A line lifts</TableCell>
            <TableCell>Price, $</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {here.ways.map((way, i) => (
            <TableRow key={way.way} selected={way.way === chosen} data-way={way.way}>
              <TableCell>
                <b>{way.words}</b>
                <Typography variant="body2" color={way.refused ? "error.main" : "text.secondary"}>
                  {way.refused ? `✕ ${way.refused}` : way.reasons[0]}
                </Typography>
              </TableCell>
              <TableCell>
                {range(way.minutes)}
                {way.own_minutes > 0 && ` (own, n = ${String(way.own_minutes)})`}
              </TableCell>
              <TableCell>{range(way.wait)}</TableCell>
              <TableCell>
                {way.own ? (
                  `${way.own.percent.toFixed(0)} % (${way.own.low_percent.toFixed(0)} to ${way.own.high_percent.toFixed(0)}), n = ${String(way.own.number)}`
                ) : (
                  <span title={way.basis}>{way.clean}</span>
                )}
              </TableCell>
              <TableCell>{range(way.glue_minutes)}</TableCell>
              <TableCell>
                {way.lines_risk_percent ? `${way.lines_risk_percent.toFixed(0)} %` : "no lines"}
              </TableCell>
              <TableCell>{range(way.price)}</TableCell>
              <TableCell>
                {way.way === chosen ? (
                  here.chosen && i > 0 ? (
                    <Button size="small" variant="text" onClick={() => onChoose(null)}>
                      As advised
                    </Button>
                  ) : (
                    "this way"
                  )
                ) : (
                  <Button
                    size="small"
                    disabled={way.refused !== ""}
                    onClick={() => onChoose(way.way)}
                    aria-label={`Take ${way.words}`}
                  >
                    Take
                  </Button>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}
