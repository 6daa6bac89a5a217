import { Box, Button, Typography } from "@mui/material";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { Answer, Empty, ErrorNote, Head, Pending, useHotkeys } from "../../shared";
import { useBetter, useDay, useDecide, useStop, type Sheet } from "./api";
import { BookDialog } from "./components/BookDialog";
import { CarList } from "./components/CarList";
import { DayLine } from "./components/DayLine";
import { DayPanel } from "./components/DayPanel";
import { Drawing } from "./components/Drawing";
import { locksFor, type Block } from "./logic/blocks";
import { dayAfter } from "./logic/zone";

const today = () => {
  const now = new Date();
  return `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, "0")}-${String(now.getDate()).padStart(2, "0")}`;
};

export interface Picked {
  jobId: string;
  block: Block | null;
}

/** The day: who works on which car when, in which bay, and whether every promise holds. */
export function DayPage() {
  const { day: asked } = useParams();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const day = asked ?? today();
  const sheet = useDay(day);
  const keys = useMemo(
    () => ({
      "[": () => void navigate(`/day/${dayAfter(day, -1)}`),
      "]": () => void navigate(`/day/${dayAfter(day, 1)}`),
    }),
    [day, navigate],
  );
  useHotkeys(keys);
  const booking = search.get("book");
  if (sheet.isPending) return <Pending what="the day" />;
  if (sheet.isError) return <ErrorNote error={sheet.error} again={() => void sheet.refetch()} />;
  return (
    <>
      <Shown key={sheet.data.day} sheet={sheet.data} onBook={(job) => setSearch({ book: job })} />
      {booking !== null && (
        <BookDialog
          jobId={booking}
          day={sheet.data.day}
          zone={sheet.data.zone}
          onClose={() => setSearch({})}
        />
      )}
    </>
  );
}

function Shown({ sheet, onBook }: { sheet: Sheet; onBook: (jobId: string) => void }) {
  const [picked, setPicked] = useState<Picked | null>(null);
  const better = useBetter(sheet.day);
  const stop = useStop(sheet.day);
  const decide = useDecide(sheet.day);
  const working = sheet.task_id !== null || better.pending;
  const tone = sheet.danger.length + sheet.left_out.length + sheet.cannot.length ? "bad" : "good";
  // A better plan is looked for once whenever the day is another one than before.
  const looked = useRef("");
  const { write: look } = better;
  useEffect(() => {
    if (sheet.looked || sheet.task_id || sheet.tasks.length === 0 || looked.current === sheet.basis) return;
    looked.current = sheet.basis;
    look(null);
  }, [sheet.looked, sheet.task_id, sheet.tasks.length, sheet.basis, look]);
  const drop = (block: Block, worker: string, start: number) =>
    decide.write({ locks: locksFor(block, worker, start), free_all: false });
  return (
    <>
      <Head
        buttons={
          <>
            <Button onClick={() => onBook("")}>Book a car</Button>
            {sheet.task_id ? (
              <Button variant="contained" onClick={() => sheet.task_id && stop.write(sheet.task_id)}>
                Stop, keep the best
              </Button>
            ) : (
              <Button
                variant="contained"
                color="secondary"
                disabled={working || sheet.tasks.length === 0 || sheet.proven}
                onClick={() => better.write(null)}
              >
                Look for a better plan
              </Button>
            )}
          </>
        }
      >
        <Answer tone={sheet.cars.length ? tone : "open"} why={<Proof sheet={sheet} working={working} />}>
          {sheet.headline}
        </Answer>
      </Head>
      <DayLine sheet={sheet} />
      {(better.error ?? decide.error) && <ErrorNote error={better.error ?? decide.error} />}
      {sheet.cars.length === 0 ? (
        <Empty words="No car comes on this day. Book one: Elumbra says the earliest time that can honestly be promised.">
          <Button variant="contained" onClick={() => onBook("")}>
            Book a car
          </Button>{" "}
          <Button component={Link} to="/jobs/new">
            New job
          </Button>
        </Empty>
      ) : (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 330px" },
            columnGap: 2.5,
          }}
        >
          <Box sx={{ minWidth: 0 }}>
            <Drawing sheet={sheet} picked={picked} onPick={setPicked} onDrop={drop} />
            <CarList
              sheet={sheet}
              picked={picked?.jobId ?? null}
              onPick={(jobId) => setPicked({ jobId, block: null })}
            />
          </Box>
          <DayPanel
            sheet={sheet}
            picked={picked}
            onPick={setPicked}
            onBook={onBook}
            decide={decide.write}
            pending={decide.pending}
          />
        </Box>
      )}
    </>
  );
}

const least = (now: number, bound: number) =>
  now > bound ? `, not proven (at least ${bound})` : ", proven least";

/** What is proven of the plan, in one line. */
function Proof({ sheet, working }: { sheet: Sheet; working: boolean }) {
  if (sheet.tasks.length === 0) return null;
  const waiting =
    sheet.waiting > sheet.waiting_least
      ? `cars wait ${sheet.waiting} min in all, not proven (at least ${sheet.waiting_least})`
      : `cars wait ${sheet.waiting} min in all, proven least`;
  return (
    <Typography component="span">
      {sheet.late === 0
        ? "No promise late by plan"
        : `${sheet.late} min late in all${least(sheet.late, sheet.late_least)}`}
      ,{" "}
      {sheet.overtime === 0
        ? "no overtime"
        : `${sheet.overtime} min of overtime${least(sheet.overtime, sheet.overtime_least)}`}
      ; {waiting}.{working ? " Looking for a better one …" : ""}
    </Typography>
  );
}
