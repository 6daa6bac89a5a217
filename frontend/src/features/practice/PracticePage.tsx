import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import {
  Answer,
  Empty,
  ErrorNote,
  FileButton,
  Head,
  PaneShape,
  Pending,
  PractiseButton,
  Ruled,
  TextLine,
  TwoColumns,
  useDraft,
  useNotify,
} from "../../shared";
import { practiceQuery, useReadIn, useSetToday, type Lesson, type Practice } from "./api";
import { Learners } from "./components/Learners";
import { clockOf } from "./logic/grid";

/** The practice glass before a run: what to begin with, six lessons, today's, one's own record. */
export function PracticePage() {
  const home = useQuery(practiceQuery());
  const navigate = useNavigate();
  const notify = useNotify();
  const readIn = useReadIn();
  if (home.isPending) return <Pending what="the lessons" />;
  if (home.isError) return <ErrorNote error={home.error} again={() => void home.refetch()} />;
  const next = home.data.lessons.find((one) => one.mine.passes === 0) ?? home.data.lessons.at(-1);
  const open = (file: File) =>
    void file.text().then((text) =>
      readIn.write(text, {
        onSuccess: (run) => void navigate(`/practice/${run.id}`),
        onError: (error) => notify(error.message, { bad: true }),
      }),
    );
  return (
    <>
      <Head
        buttons={
          <>
            {next && <PractiseButton main on={{ lesson: next.key }} words="Begin" />}
            <FileButton
              words="Open a run"
              label="A run as a file"
              disabled={readIn.pending}
              onChosen={open}
            />
          </>
        }
      >
        <Answer why="Ruin as much film as it takes: nothing here costs any. What hands learn here they take to the car.">
          {home.data.headline}
        </Answer>
      </Head>
      <TwoColumns shares="1.7fr 1fr">
        <Ruled title="Lessons">
          {home.data.lessons.map((lesson) => (
            <LessonRow key={lesson.key} lesson={lesson} />
          ))}
        </Ruled>
        <Box>
          <Today home={home.data} />
          <Runs home={home.data} />
          <Ruled title="What is simplified">
            <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
              {home.data.simplified.map((words) => (
                <Typography component="li" variant="body2" key={words}>
                  {words}
                </Typography>
              ))}
            </Box>
          </Ruled>
        </Box>
      </TwoColumns>
      {home.data.learners.length > 0 && <Learners home={home.data} />}
    </>
  );
}

const SCHOOLS: Readonly<Record<Lesson["school"], string>> = {
  dry: "dry, on a dryer sheet",
  wet: "wet, on slip",
  snap: "on slip, one warm pass",
};
const WIDE = 120;
const TALL = 60;

function LessonRow({ lesson }: { lesson: Lesson }) {
  const xs = lesson.outline.map(([x = 0]) => x);
  const ys = lesson.outline.map(([, y = 0]) => y);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = WIDE / 1600;
  const done = lesson.mine.passes > 0;
  return (
    <Box
      component="article"
      aria-label={lesson.title}
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "center",
        py: 0.75,
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <Box
        component="svg"
        viewBox={`0 0 ${String(WIDE)} ${String(TALL)}`}
        sx={{ width: WIDE, height: TALL, flexShrink: 0, display: { xs: "none", sm: "block" } }}
        aria-hidden
      >
        <PaneShape
          ring={lesson.outline}
          measured
          scale={scale}
          left={WIDE / 2 - ((left + right) / 2) * scale}
          base={TALL / 2 + ((low + high) / 2) * scale}
          fill="currentColor"
          fillOpacity={done ? 0.75 : 0.15}
          stroke="currentColor"
        />
      </Box>
      <Box sx={{ flexGrow: 1, minWidth: 0 }}>
        <Typography sx={{ fontWeight: 700 }}>{lesson.title}</Typography>
        <Typography variant="body2">
          {lesson.percent} % must go ({lesson.word}), {SCHOOLS[lesson.school]}, {lesson.film}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {told(lesson)}
        </Typography>
      </Box>
      <PractiseButton on={{ lesson: lesson.key }} words={done ? "Again" : "Begin"} />
    </Box>
  );
}

function told({ mine }: Lesson): string {
  if (mine.runs === 0) return "Not tried yet";
  const passed =
    mine.passes === 0 ? "not passed yet" : `passed ${mine.passes === 1 ? "once" : `${mine.passes} times`}`;
  return `${mine.runs} ${mine.runs === 1 ? "run" : "runs"}, ${passed}, best ${mine.best ?? 0} points`;
}

function Today({ home }: { home: Practice }) {
  const set = useSetToday();
  const draft = useDraft({ note: home.today?.note ?? "" });
  const { note } = draft.fields;
  if (!home.today) return null;
  const keep = (said: { window_id: string | null; note: string }) =>
    set.write({ ...said, version: home.today_version }, { onSuccess: () => draft.kept({ note }) });
  return (
    <Ruled title="Today’s lesson">
      <Typography sx={{ fontWeight: 700 }}>{home.today.title}</Typography>
      {home.learners.length > 0 ? (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1, my: 1.5 }}>
          <TextLine
            label="A word to the learners"
            value={note}
            onChange={(typed) => draft.set({ note: typed })}
          />
          {note !== home.today.note && (
            <Button
              disabled={set.pending}
              onClick={() => keep({ window_id: home.today?.window_id ?? null, note })}
            >
              Keep
            </Button>
          )}
        </Box>
      ) : (
        home.today.note && <Typography sx={{ mb: 1 }}>{home.today.note}</Typography>
      )}
      {set.error && <ErrorNote error={set.error} />}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <PractiseButton on={{ window_id: home.today.window_id }} />
        {home.learners.length > 0 && (
          <Button disabled={set.pending} onClick={() => keep({ window_id: null, note: "" })}>
            Take it back
          </Button>
        )}
      </Box>
    </Ruled>
  );
}

function Runs({ home }: { home: Practice }) {
  return (
    <Ruled title="Your runs">
      <Typography sx={{ mb: 1 }}>
        {home.alone.length > 0
          ? `You may shrink alone: ${home.alone.join(", ")}.`
          : "The lead has not said yet what you may shrink alone: have somebody beside you."}
      </Typography>
      {home.runs.length === 0 && <Empty words="None yet. The first lesson takes about two minutes." />}
      {home.runs.map((run) => (
        <Button
          key={run.id}
          component={Link}
          to={`/practice/${run.id}`}
          fullWidth
          sx={{
            justifyContent: "space-between",
            minHeight: 48,
            mb: 0.5,
            bgcolor: "background.paper",
            textAlign: "left",
          }}
        >
          <span>{run.title}</span>
          <span>
            {run.over ? `${run.passed ? "passed" : "not passed"}, ${String(run.points ?? 0)}` : "go on"} ·{" "}
            {clockOf(run.seconds * 10)}
          </span>
        </Button>
      ))}
    </Ruled>
  );
}
