import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, Task } from "../../../api/client";
import { ErrorNote, Row, Ruled, useSettings } from "../../../shared";
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
  const { showLength } = useSettings();
  const knife = useKnife(job.id);
  const offcuts = plan.films.flatMap((film) =>
    film.leftovers.filter((rest) => rest.label !== "").map((rest) => ({ ...rest, film: film.film_name })),
  );
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const asked = knife.error instanceof Problem && knife.error.code === "ask_again";
  const pulls = plan.films.flatMap((film) => film.stocks.filter((stock) => stock.used_mm > 0));
  const book = () => {
    const keep = offcuts.map((rest) => rest.label).filter((label) => !left.has(label));
    knife.cut({ input_hash: job.input_hash, keep, sure: asked }, { onSuccess: onClose });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="cut-title">
      <DialogTitle id="cut-title">Book this film off the rack</DialogTitle>
      <DialogContent>
        {knife.error && <ErrorNote error={knife.error} />}
        {pulls.map((stock) => (
          <Typography key={stock.id} sx={{ fontWeight: 700 }}>
            {stock.kind === "roll"
              ? `${showLength(stock.used_mm)} off ${stock.label}`
              : `${stock.label}, all of it`}
            {stock.lot ? `, lot ${stock.lot}` : ""}
          </Typography>
        ))}
        <Typography sx={{ mt: 1.5 }}>
          {offcuts.length
            ? "Goes back on the rack, with the label to write on it. Take the tick out for what is thrown away."
            : "Nothing is left that is worth keeping."}
        </Typography>
        {offcuts.map((rest) => (
          <Box key={rest.label}>
            <FormControlLabel
              control={
                <Checkbox
                  checked={!left.has(rest.label)}
                  onChange={(_, keep) =>
                    setLeft((before) => {
                      const next = new Set(before);
                      if (keep) next.delete(rest.label);
                      else next.add(rest.label);
                      return next;
                    })
                  }
                />
              }
              label={`${rest.label}: ${showLength(rest.across_mm)} × ${showLength(rest.along_mm)} of ${rest.film}`}
            />
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not yet
        </Button>
        <Button variant="contained" color="secondary" disabled={knife.pending} onClick={book}>
          {asked ? "Yes, cut into held film" : "Yes, film is cut"}
        </Button>
      </DialogActions>
    </Dialog>
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
