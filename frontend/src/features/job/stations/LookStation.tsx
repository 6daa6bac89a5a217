import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, JobWindow } from "../../../api/client";
import { Answer, Empty, ErrorNote, Pending, Row, Switch, TwoColumns, useNotify } from "../../../shared";
import { FlawPanel } from "../components/look/FlawPanel";
import { Hunt } from "../components/look/Hunt";
import { KindPalette } from "../components/look/KindPalette";
import { LookPane } from "../components/look/LookPane";
import { LookReading } from "../components/look/LookReading";
import { WholeCarLook } from "../components/look/WholeCarLook";
import { decisionWords, nextLook, toneOfLook, worstFirst, type Side } from "../logic/look";
import { lookQuery, useAddFlaw, useKeepLook, useLookBack, type CarLook, type LookWindow } from "../look";

const SIDES = { outside: "Outside", inside: "Inside" } as const;

/** Every pane judged before the car leaves: the flaw where it is, its cause, its remedy, and what becomes of it. */
export function LookStation({
  job,
  window,
  onSelect,
}: {
  job: Job;
  window: JobWindow | null;
  onSelect: (id: string | null) => void;
}) {
  const found = useQuery(lookQuery(job.id, job.input_hash));
  if (!found.data)
    return found.isError ? (
      <ErrorNote error={found.error} again={() => void found.refetch()} />
    ) : (
      <Pending what="what was seen" />
    );
  const car = found.data;
  if (!window) return <WholeCarLook job={job} car={car} onSelect={onSelect} />;
  const look = car.windows.find((one) => one.window_id === window.id);
  if (!look)
    return (
      <>
        <Answer>{window.label}: no film to look at</Answer>
        <Empty words="Film goes on first: choose it at Shade, or look at another window.">
          <Button component={Link} to={`/jobs/${job.id}/shade?w=${window.id}`}>
            Shade
          </Button>
        </Empty>
      </>
    );
  return <OneWindow key={window.id} job={job} window={window} car={car} look={look} onSelect={onSelect} />;
}

function OneWindow({
  job,
  window,
  car,
  look,
  onSelect,
}: {
  job: Job;
  window: JobWindow;
  car: CarLook;
  look: LookWindow;
  onSelect: (id: string | null) => void;
}) {
  const add = useAddFlaw(job.id);
  const [side, setSide] = useState<Side>("outside");
  const [kind, setKind] = useState("finger");
  const [at, setAt] = useState(0);
  const [picked, setPicked] = useState<string | null>(null);
  const flaws = worstFirst(look.flaws);
  const flaw = flaws.find((one) => one.id === picked) ?? null;
  const put = (where: { x: number; y: number }) =>
    add.write(
      {
        windowId: window.id,
        body: {
          ...where,
          kind,
          seen_from: side,
          state: look.leaving === null ? "wet" : "set",
          count: 1,
          when: nextLook(look),
          note: "",
        },
      },
      {
        onSuccess: (after) => {
          const now = after.windows.find((one) => one.window_id === window.id);
          setPicked(now?.flaws[now.flaws.length - 1]?.id ?? null);
        },
      },
    );
  return (
    <TwoColumns shares="1.15fr 1fr">
      <Box>
        <Answer tone={toneOfLook(look)}>{look.answer}</Answer>
        <Hunt
          car={car}
          look={look}
          at={at}
          onStep={(to, from) => {
            setAt(to);
            setSide(from);
          }}
        >
          <Switch label="Seen" value={side} options={SIDES} onChange={setSide} />
        </Hunt>
        <LookPane
          window={window}
          look={look}
          side={side}
          chosen={picked}
          putting={car.kinds.find((one) => one.id === kind)?.short ?? kind}
          busy={add.pending}
          onPut={put}
          onPick={(one) => setPicked(one.id === picked ? null : one.id)}
        />
        {add.error && <ErrorNote error={add.error} />}
        <KindPalette car={car} kind={kind} onKind={setKind} />
      </Box>
      <Box>
        <Clean job={job} look={look} onNext={() => onSelect(nextWindow(car, window.id))} />
        {flaws.length > 0 && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, my: 1 }} role="group" aria-label="Flaws">
            {flaws.map((one) => (
              <Button
                key={one.id}
                size="small"
                variant={one.id === picked ? "contained" : "outlined"}
                color={one.decision === "redo" && one.closed === "" ? "error" : "primary"}
                onClick={() => setPicked(one.id === picked ? null : one.id)}
              >
                {one.short}, {one.where}: {decisionWords(one)}
              </Button>
            ))}
          </Box>
        )}
        {flaw ? (
          <FlawPanel key={flaw.id} job={job} car={car} flaw={flaw} onGone={() => setPicked(null)} />
        ) : (
          <LookReading job={job} window={window} look={look} />
        )}
      </Box>
    </TwoColumns>
  );
}

function nextWindow(car: CarLook, id: string): string | null {
  const filmed = car.windows.filter((one) => one.film_id !== "");
  const at = filmed.findIndex((one) => one.window_id === id);
  const rest = [...filmed.slice(at + 1), ...filmed.slice(0, at)];
  return rest.find((one) => one.final === null)?.window_id ?? null;
}

/** One touch: the pane is clean, once before leaving the window and once at the end. */
function Clean({ job, look, onNext }: { job: Job; look: LookWindow; onNext: () => void }) {
  const keep = useKeepLook(job.id);
  const back = useLookBack(job.id);
  const notify = useNotify();
  const when = nextLook(look);
  const said = look.final ?? look.leaving;
  const clean = () =>
    keep.write(
      { windowId: look.window_id, body: { when, clean: true, rulers: {} } },
      {
        onSuccess: (car) => {
          const now = car.windows.find((one) => one.window_id === look.window_id);
          const made = when === "final" ? now?.final : now?.leaving;
          notify(`${look.label}: clean`, {
            undo: () => {
              if (made) back.write({ id: made.id, version: made.version });
            },
          });
          onNext();
        },
      },
    );
  return (
    <>
      <Row>
        <Button
          variant="contained"
          color="secondary"
          disabled={keep.pending || !look.made}
          onClick={clean}
          sx={{ minHeight: 64, fontSize: 22, px: 3 }}
        >
          Clean
        </Button>
        <Typography color="text.secondary">
          {!look.made
            ? "Once its film is on. A flaw can be noted at any time."
            : when === "leaving"
              ? "Before leaving the window"
              : "At the end, once all is dry"}
          {said ? ` · last: ${said.clean ? "clean" : "flaws"}, ${said.person}` : ""}
        </Typography>
      </Row>
      {keep.error && <ErrorNote error={keep.error} />}
    </>
  );
}
