import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, Task } from "../../../api/client";
import { BookFilm, Row, Ruled } from "../../../shared";
import { Problem } from "../../../api/unwrap";
import { useKnife } from "../api";
import { HowItFitted } from "./HowItFitted";

type Plan = NonNullable<Task["plan"]>;

/** The plan was cut as drawn: lengths come off the rack, and what is kept goes on it. */
export function FilmIsCut({ job, plan, ready }: { job: Job; plan: Plan; ready: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        variant="contained"
        size="large"
        disabled={!ready}
        onClick={() => setOpen(true)}
        sx={{ "@media print": { display: "none" } }}
      >
        Film is cut
      </Button>
      {open && <Booking job={job} plan={plan} onClose={() => setOpen(false)} />}
    </>
  );
}

function Booking({ job, plan, onClose }: { job: Job; plan: Plan; onClose: () => void }) {
  const knife = useKnife(job.id);
  const asked = knife.error instanceof Problem && knife.error.code === "ask_again";
  return (
    <BookFilm
      plan={plan}
      error={knife.error}
      pending={knife.pending}
      onBook={(keep) => knife.cut({ input_hash: job.input_hash, keep, sure: asked }, { onSuccess: onClose })}
      onClose={onClose}
    />
  );
}

/** What was cut for this job, from what, and how to undo it. */
export function Cuttings({ job }: { job: Job }) {
  const knife = useKnife(job.id);
  if (job.cuttings.length === 0) return null;
  const cut = job.windows.filter((window) => window.cut?.standing);
  return (
    <Ruled title="Film that was cut">
      {job.cuttings.map((cutting) => (
        <Box key={cutting.id} data-cutting sx={{ py: 0.75, borderBottom: 1, borderColor: "divider" }}>
          <Row>
            <Typography sx={{ flex: "1 1 420px" }}>
              <b>{cutting.on_day}</b>, {cutting.person}: {cutting.windows.join(", ")}.{" "}
              {cutting.taken.length > 0 && `Off the rack: ${cutting.taken.join("; ")}. `}
              {cutting.kept.length > 0 && (
                <>
                  Kept: {cutting.kept.map((one) => `${one.label} (${one.size})`).join(", ")}.{" "}
                  <Link to="/rack">Rack</Link>
                </>
              )}
            </Typography>
            {cutting.may_be_taken_back && (
              <Button
                size="small"
                disabled={knife.pending}
                onClick={() => knife.takeBack(cutting.id, cutting.version)}
              >
                Take this cut back
              </Button>
            )}
          </Row>
        </Box>
      ))}
      {cut.map((window) => (
        <Row key={window.id}>
          <Typography sx={{ minWidth: 260 }}>
            <b>{window.label}</b>: {window.cut?.lot ? `lot ${window.cut.lot}, ` : "lot not noted, "}
            {window.cut?.roll}
          </Typography>
          <Button
            size="small"
            variant="text"
            disabled={knife.pending}
            onClick={() => {
              const cutting = job.cuttings.find((one) => one.id === window.cut?.cutting_id);
              if (cutting) knife.again(cutting.id, cutting.version, window.id);
            }}
          >
            Spoilt: cut it again
          </Button>
          <HowItFitted jobId={job.id} window={window} />
        </Row>
      ))}
    </Ruled>
  );
}
