import { Box, Button, TextField, Typography } from "@mui/material";
import type { Job, JobWindow } from "../../../../api/client";
import { ASKED_FACTS } from "../../../../api/words";
import { Choice, FieldGrid, PickOne, Ruled, Tick, useFollowing, YesNo } from "../../../../shared";
import { useRemoveWindow } from "../../api";
import { MeterButton } from "./MeterButton";
import type { ChangeWindow } from "./types";

interface Props {
  job: Job;
  window: JobWindow;
  change: ChangeWindow;
}

/** What is known of a window. Which facts it is asked for, and their words, come from the core. */
export function GlassFacts({ job, window, change }: Props) {
  const { remove } = useRemoveWindow(job.id);
  const others = job.windows.filter((other) => other.id !== window.id && other.same_as_id === null);
  const share = (id: string | null) => {
    const source = others.find((other) => other.id === id);
    change({ same_as_id: id, same_as_mirrored: Boolean(source && source.side !== window.side) });
  };
  const staysUnread = window.old_film && window.old_film_stays && !window.bare_vlt_through_old_film;
  return (
    <Ruled
      title="This window"
      action={
        <Button variant="text" onClick={() => remove(window.id, window.version, window.label)}>
          Take this window out
        </Button>
      }
    >
      <FieldGrid>
        <NameField key={window.id} window={window} change={change} />
        <Box>
          <VltField window={window} change={change} />
          <MeterButton change={change} />
        </Box>
        <PickOne
          label="Same glass as"
          value={window.same_as_id}
          none="its own"
          options={others.map(
            (other) => [other.id, `${other.label}${other.side !== window.side ? ", mirrored" : ""}`] as const,
          )}
          onChange={share}
        />
        {ASKED_FACTS.filter((fact) => window.asks.includes(fact.name)).map((fact) => (
          <FactField key={fact.name} fact={fact} window={window} change={change} />
        ))}
        {staysUnread && (
          <PickOne
            label="It is"
            value={window.layers[0] ?? null}
            none="not known: meter through it"
            options={job.films
              .filter((film) => !film.removed || window.layers.includes(film.id))
              .map((film) => [film.id, film.name] as const)}
            onChange={(id) => change({ layers: id === null ? [] : [id] })}
          />
        )}
      </FieldGrid>
      {window.under_old_film && (
        <Typography sx={{ mt: 1, fontWeight: 700, color: "error.main" }}>
          Old film is still on, so the bare glass is only assumed, and the law hangs on it. Take it off, tick
          “It is off now” and meter the glass.
        </Typography>
      )}
      {window.no_film && (
        <Typography sx={{ mt: 1, fontWeight: 700, color: "error.main" }}>{window.no_film}.</Typography>
      )}
    </Ruled>
  );
}

/** What the window is called on screens and papers. */
function NameField({ window, change }: Omit<Props, "job">) {
  const [text, setText, given] = useFollowing(window.label);
  const name = text.trim();
  const keep = () => {
    given();
    if (name !== "" && name !== window.label) change({ label: name });
  };
  return (
    <TextField
      label="Called"
      value={text}
      error={name === ""}
      helperText={name === "" ? "A window needs a name" : undefined}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
      }}
    />
  );
}

type Fact = (typeof ASKED_FACTS)[number];

/** The field that a fact's declaration asks for. */
function FactField({ fact, window, change }: { fact: Fact } & Omit<Props, "job">) {
  const put = (value: unknown) => change({ [fact.name]: value });
  switch (fact.field) {
    case "choice":
      return <Choice label={fact.label} value={window[fact.name]} options={fact.options} onChange={put} />;
    case "yes_no_unknown":
      return <YesNo label={fact.label} value={window[fact.name]} unknown={fact.unknown} onChange={put} />;
    case "check":
      return <Tick label={fact.label} value={window[fact.name]} onChange={put} />;
  }
}

/** One figure, or several readings of the meter with spaces between: their mean counts. */
function VltField({ window, change }: Omit<Props, "job">) {
  const { bare_readings_percent: readings, bare_vlt_percent: percent } = window;
  const several = readings.length > 1;
  const saved = several ? readings.join(" ") : percent === null ? "" : String(percent);
  const [text, setText, given] = useFollowing(saved);
  const values = text
    .replace(/%/g, "")
    .split(/[\s;]+/)
    .filter(Boolean)
    .map(Number);
  const wrong = values.some((value) => !(value >= 0 && value <= 100))
    ? "A share of light: 0 to 100 %."
    : undefined;
  const told = wrong ?? (text.trim() === saved && window.meter_doubt ? window.meter_doubt : undefined);
  const commit = () => {
    given();
    if (wrong || text.trim() === saved) return;
    const [first] = values;
    if (first === undefined) change({ bare_vlt_percent: null });
    else if (values.length > 1) change({ bare_readings_percent: values });
    else {
      const source = window.bare_vlt_source === "assumed" ? "metered" : window.bare_vlt_source;
      change({ bare_vlt_percent: first, bare_vlt_source: source });
    }
  };
  const mean = Math.round((percent ?? 0) * 10) / 10;
  const hint = several
    ? `mean ${mean} of ${readings.length} readings`
    : window.bare_vlt_source === "assumed"
      ? "our starting value: meter it"
      : "or several: 71 72 70";
  return (
    <TextField
      label={window.bare_vlt_through_old_film ? "Glass with old film, VLT, %" : "Bare glass VLT, %"}
      value={text}
      error={Boolean(told)}
      helperText={told ?? hint}
      onChange={(event) => setText(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === "Enter") commit();
      }}
      slotProps={{ htmlInput: { inputMode: "decimal" } }}
    />
  );
}
