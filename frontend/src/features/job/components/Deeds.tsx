import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Menu,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, Schemas } from "../../../api/client";
import { sessionQuery } from "../../../api/queries";
import {
  DEED_WORDS,
  ErrorNote,
  focusWhenShown,
  isHere,
  STATE_WORDS,
  useHome,
  useSmallScreen,
  type Deed,
} from "../../../shared";
import { useDeed } from "../api";

type Next = Schemas["NextDeedOut"];

/** What stands behind More: each ends a job or undoes something. */
const APART: readonly Deed[] = ["cancel", "no_show", "step_back"];

/** How the job stands, and buttons for what can be done with it as a whole now. */
export function Deeds({ job }: { job: Job }) {
  const deed = useDeed(job.id);
  const person = useQuery(sessionQuery()).data?.person;
  const home = useHome();
  const [asked, ask] = useState<Next | null>(null);
  const mine = job.next_deeds.filter((one) => person && one.roles.includes(person.role));
  const forward = mine.filter((one) => !APART.includes(one.deed));
  const apart = mine.filter((one) => APART.includes(one.deed));
  const toBook = !home && !isHere(job.status) && job.status !== "delivered";
  const act = (one: Next, bay = "") => {
    if (one.reason_asked) ask(one);
    else deed.write({ deed: one.deed, reason: "", bay });
  };
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
      <Typography sx={{ fontWeight: 700 }} aria-label="Where the job stands">
        {job.bay && job.status === "in_bay" ? `in ${job.bay}` : STATE_WORDS[job.status]}
      </Typography>
      {forward.map((one) =>
        one.bays.length > 1 ? (
          <Choosing
            key={one.deed}
            words={job.status === "paused" ? "Go on" : DEED_WORDS[one.deed]}
            disabled={deed.pending}
            choices={one.bays.map((bay) => ({ key: bay, words: `In ${bay}`, act: () => act(one, bay) }))}
          />
        ) : (
          <Button key={one.deed} disabled={deed.pending} onClick={() => act(one, one.bays[0])}>
            {one.deed === "start" && job.status === "paused" ? "Go on" : DEED_WORDS[one.deed]}
          </Button>
        ),
      )}
      {toBook && (
        <Button component={Link} to={booking(job)}>
          {job.status === "booked" ? "Booking" : DEED_WORDS.book}
        </Button>
      )}
      {isHere(job.status) && (
        <Button component={Link} to={`/jobs/${job.id}/handover`}>
          {DEED_WORDS.deliver}
        </Button>
      )}
      <Choosing
        words="More"
        disabled={deed.pending}
        choices={[
          ...apart.map((one) => ({ key: one.deed, words: DEED_WORDS[one.deed], act: () => act(one) })),
          ...(!home && isHere(job.status) ? [{ key: "booking", words: "Booking", to: booking(job) }] : []),
          ...(person?.prices
            ? [{ key: "file", words: "Save as file", href: `/api/jobs/${job.id}/export` }]
            : []),
        ]}
      />
      {asked !== null && (
        <ReasonDialog
          job={job}
          next={asked}
          error={deed.error}
          pending={deed.pending}
          onClose={() => ask(null)}
          onReason={(reason) =>
            deed.write({ deed: asked.deed, reason, bay: "" }, { onSuccess: () => ask(null) })
          }
        />
      )}
    </Box>
  );
}

const booking = (job: Job) => `/day?book=${job.id}`;

type Choosable = { key: string; words: string } & ({ act: () => void } | { to: string } | { href: string });

/** A button that opens a short list of what can be done. */
function Choosing({
  words,
  choices,
  disabled,
}: {
  words: string;
  choices: readonly Choosable[];
  disabled: boolean;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const small = useSmallScreen();
  if (choices.length === 0) return null;
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-expanded={at !== null}
        disabled={disabled}
        onClick={(event) => setAt(event.currentTarget)}
      >
        {words} ▾
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {choices.map((one) => (
          <MenuItem
            key={one.key}
            sx={{ "&&": { minHeight: small ? 56 : 48 } }}
            {...("to" in one ? { component: Link, to: one.to } : {})}
            {...("href" in one ? { component: "a", href: one.href, download: true } : {})}
            onClick={() => {
              setAt(null);
              if ("act" in one) one.act();
            }}
          >
            {one.words}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function ReasonDialog({
  job,
  next,
  error,
  pending,
  onClose,
  onReason,
}: {
  job: Job;
  next: Next;
  error: Error | null;
  pending: boolean;
  onClose: () => void;
  onReason: (reason: string) => void;
}) {
  const [reason, setReason] = useState("");
  const last = job.deeds.findLast((one) => one.state === job.status);
  const back = next.deed === "step_back";
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="deed-title">
      <DialogTitle id="deed-title">{back ? "Go back one step?" : "Cancel this job?"}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          {back && last
            ? `“${DEED_WORDS[last.deed]}”${last.person ? ` by ${last.person}` : ""} is undone. It stays on record.`
            : "It leaves the board and the schedule. It stays on record, and a lead can undo it."}
        </Typography>
        <TextField
          inputRef={focusWhenShown}
          fullWidth
          multiline
          label="Why"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        {error && <ErrorNote error={error} />}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={pending || reason.trim() === ""}
          onClick={() => onReason(reason)}
        >
          {back ? "Go back" : "Cancel job"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
