import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { WORDS } from "../../../../api/words";
import {
  Answer,
  Head,
  Locked,
  Row,
  Ruled,
  showLength,
  TwoColumns,
  useSettings,
  useSmallScreen,
} from "../../../../shared";
import { historyQuery } from "../../api";
import { answered, keptAsItWas } from "../../logic/survey";
import { useOnWindow } from "../../survey";
import { AddGlass } from "./AddGlass";
import { CarFindings } from "./CarFindings";
import { KeepOnShelf } from "./KeepOnShelf";
import { Photos } from "./Photos";
import { TakeFromShelf } from "./TakeFromShelf";
import { VehicleFacts } from "./VehicleFacts";

interface Props {
  job: Job;
  onSelect: (id: string | null) => void;
}

/** The car as a whole: what is found on it, facts the law asks for, and where the survey stands. */
export function WholeCarSurvey({ job, onSelect, onWalk }: Props & { onWalk: () => void }) {
  const open = job.windows.filter((window) => window.ticks.survey !== "done").length;
  const words = open ? `${open} of ${job.windows.length} windows still to measure` : "All glass measured";
  return (
    <>
      <Head
        buttons={
          <Button variant="contained" color="secondary" size="large" onClick={onWalk}>
            Walk round the car
          </Button>
        }
      >
        <Answer tone={open ? "open" : "good"}>{words}</Answer>
      </Head>
      <TwoColumns shares="3fr 2fr">
        <div>
          <AllWindows job={job} onSelect={onSelect} />
          <Photos job={job} windowId={null} />
          <History job={job} />
        </div>
        <Locked why={keptAsItWas(job)}>
          <CarFindings job={job} />
          <VehicleFacts job={job} />
        </Locked>
      </TwoColumns>
    </>
  );
}

function AllWindows({ job, onSelect }: Props) {
  const { unit } = useSettings();
  const small = useSmallScreen();
  const [dialog, setDialog] = useState<"keep" | "take" | null>(null);
  const { act, pending } = useOnWindow(job.id);
  const kept = keptAsItWas(job) !== null;
  return (
    <div>
      <Table size="small" aria-label="Windows">
        <TableHead>
          <TableRow>
            <TableCell>Window</TableCell>
            <TableCell align="right">Size</TableCell>
            {!small && <TableCell>Curve</TableCell>}
            {!small && <TableCell align="right">Bare glass</TableCell>}
            <TableCell align="right">Looked over</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {job.windows.map((window, i) => {
            const { width_mm: width, height_mm: height } = window.pane;
            const move = (by: -1 | 1) => act(window.id, { what: "move", by });
            return (
              <TableRow key={window.id} hover>
                <TableCell>
                  <Button variant="text" onClick={() => onSelect(window.id)} sx={{ textAlign: "left" }}>
                    {window.label}
                  </Button>
                </TableCell>
                <TableCell align="right">
                  {width && height
                    ? `${showLength(width, unit)} × ${showLength(height, unit)}`
                    : "not measured"}
                </TableCell>
                {!small && <TableCell>{WORDS.Curve[window.curve]}</TableCell>}
                {!small && (
                  <TableCell align="right">
                    {window.bare_vlt_percent === null
                      ? "not known"
                      : `${window.bare_vlt_percent} % ${window.bare_vlt_source}`}
                  </TableCell>
                )}
                <TableCell align="right">
                  {answered(window)}/{window.findings_asked.length}
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: "nowrap", px: 0 }}>
                  <Button
                    size="small"
                    variant="text"
                    disabled={kept || pending || i === 0}
                    onClick={() => move(-1)}
                    aria-label={`${window.label} earlier`}
                    sx={{ minWidth: 36 }}
                  >
                    ↑
                  </Button>
                  <Button
                    size="small"
                    variant="text"
                    disabled={kept || pending || i === job.windows.length - 1}
                    onClick={() => move(1)}
                    aria-label={`${window.label} later`}
                    sx={{ minWidth: 36 }}
                  >
                    ↓
                  </Button>
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      <Box sx={{ my: 1.5 }}>
        <Row>
          {!kept && <AddGlass job={job} onSelect={onSelect} />}
          {!kept && <Button onClick={() => setDialog("take")}>Same car as …</Button>}
          <Button onClick={() => setDialog("keep")}>Keep on the glass shelf</Button>
        </Row>
      </Box>
      {dialog === "keep" && <KeepOnShelf job={job} onClose={() => setDialog(null)} />}
      {dialog === "take" && <TakeFromShelf job={job} onClose={() => setDialog(null)} />}
    </div>
  );
}

const CLOCK = { hour: "numeric", minute: "2-digit" } as const;

function History({ job }: { job: Job }) {
  const history = useQuery(historyQuery(job.id));
  return (
    <Ruled title="Who changed what">
      {history.data?.entries.slice(0, 8).map((entry, i) => (
        <Typography key={i} variant="body2" sx={{ py: 0.25 }}>
          {new Date(entry.at).toLocaleTimeString("en-US", CLOCK)} · {entry.person} {entry.action} {entry.what}
          {entry.action === "changed"
            ? `: ${entry.fields
                .join(", ")
                .replace(/(readings|findings)\./g, "")
                .replace(/_/g, " ")}`
            : ""}
        </Typography>
      ))}
    </Ruled>
  );
}
