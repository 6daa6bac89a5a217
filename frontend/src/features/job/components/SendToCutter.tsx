import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { FilmPlan, Job } from "../../../api/client";
import { ErrorNote } from "../../../shared";
import { cutterQuery, useOrderCutter, useSendToCutter } from "../api";

type PlanStock = FilmPlan["stocks"][number];

const BUSY = ["cutting", "paused", "jammed", "out", "edge"];

/** Sends one stock's cut lines to the cutter and follows it until they are cut. */
export function SendToCutter({ job, film, stock }: { job: Job; film: FilmPlan; stock: PlanStock }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Send to cutter, {stock.label}</Button>
      {open && <Cutting job={job} film={film} stock={stock} onClose={() => setOpen(false)} />}
    </>
  );
}

function Cutting({
  job,
  film,
  stock,
  onClose,
}: {
  job: Job;
  film: FilmPlan;
  stock: PlanStock;
  onClose: () => void;
}) {
  const cutter = useQuery({ ...cutterQuery(), refetchInterval: 1000 });
  const send = useSendToCutter(job.id);
  const order = useOrderCutter();
  // Whole pieces before the job that runs now, so that a rest that is sent counts on.
  const [before, setBefore] = useState(0);
  const [sent, setSent] = useState(false);
  const pieces = film.pieces.filter((piece) => piece.stock_id === stock.id).length;
  const state = cutter.data;
  const busy = state ? BUSY.includes(state.state) : false;
  const done = sent ? before + (state?.done ?? 0) : 0;
  const whole = sent && done >= pieces;
  const begin = (after: number) =>
    send.write(
      { film_id: film.film_id, stock_id: stock.id, after },
      {
        onSuccess: () => {
          setBefore(after);
          setSent(true);
        },
      },
    );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="cutter-title">
      <DialogTitle id="cutter-title">
        {film.film_name} from {stock.label}
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ fontWeight: 700 }}>
          Load {stock.label}, {stock.facing}. {pieces} {pieces === 1 ? "piece" : "pieces"}.
        </Typography>
        {send.error && <ErrorNote error={send.error} />}
        {order.error && <ErrorNote error={order.error} />}
        <Box role="status" aria-live="polite" sx={{ my: 1.5 }}>
          <Typography variant="h2" component="p" color={state && !state.there ? "error.main" : undefined}>
            {sent ? `${done} of ${pieces} cut` : "Not sent yet"}
          </Typography>
          <Typography>{state?.told ?? "Asking the cutter …"}</Typography>
          {busy && state && (
            <>
              <LinearProgress
                variant="determinate"
                color="secondary"
                value={state.total ? (100 * state.done) / state.total : 0}
                aria-label="Pieces cut"
                sx={{ my: 1 }}
              />
              <Typography>about {Math.ceil(state.seconds_left)} s left</Typography>
            </>
          )}
        </Box>
        <Typography variant="body2" color="text.secondary">
          Keep hands clear while it runs. Sending books nothing: say “Film is cut” afterwards.
        </Typography>
      </DialogContent>
      <DialogActions>
        {state?.state === "cutting" && (
          <Button disabled={order.pending} onClick={() => order.write("PAUSE")}>
            Pause
          </Button>
        )}
        {(state?.state === "paused" || state?.state === "jammed") && (
          <Button disabled={order.pending} onClick={() => order.write("RESUME")}>
            Go on
          </Button>
        )}
        {busy && (
          <Button disabled={order.pending} onClick={() => order.write("ABORT")}>
            Stop this job
          </Button>
        )}
        {!busy && !whole && (
          <Button
            variant="contained"
            color="secondary"
            disabled={send.pending || !state?.there}
            onClick={() => begin(sent ? done : 0)}
          >
            {sent ? "Send the rest" : "Send"}
          </Button>
        )}
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
