import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, JobWindow, Question } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { TapeField } from "../../../shared";
import { useJobChange, useWindowChange } from "../api";
import { readingLabel } from "../logic/windows";

/** A missing fact, asked and answered where it is missed. */
export function QuestionAnswer({ job, question, state }: { job: Job; question: Question; state: string }) {
  const window = job.windows.find((one) => one.id === question.window_id);
  return (
    <Box
      data-question={question.asks}
      sx={{
        borderLeft: 6,
        borderColor: "secondary.main",
        bgcolor: "background.paper",
        px: 1.5,
        py: 1,
        my: 1,
      }}
    >
      <Typography sx={{ fontWeight: 700, mb: 0.75 }}>{question.text}</Typography>
      <Reply job={job} question={question} window={window} state={state} />
    </Box>
  );
}

function Reply({
  job,
  question,
  window,
  state,
}: {
  job: Job;
  question: Question;
  window: JobWindow | undefined;
  state: string;
}) {
  const { change } = useJobChange(job.id);
  const writes = useWindowChange(job.id);
  const put = (body: Parameters<typeof writes.change>[1]) => {
    if (window) writes.change(window.id, body);
  };
  switch (question.asks) {
    case "mirrors_both_sides":
      return (
        <YesNo
          onAnswer={(yes) => {
            change({ mirrors_both_sides: yes });
          }}
        />
      );
    case "factory_glass":
      return (
        <YesNo
          onAnswer={(yes) => {
            put({ factory_glass: yes });
          }}
        />
      );
    case "glass_there":
      return (
        <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
          <Button
            onClick={() => {
              if (question.position) change({ no_glass_at: [...job.no_glass_at, question.position] });
            }}
          >
            There is none
          </Button>
          <Button component={Link} to={`/jobs/${job.id}/survey?w=all`}>
            Add it at Survey
          </Button>
        </Box>
      );
    case "registered_as":
      return (
        <TextField
          select
          label="Registered as"
          value=""
          onChange={(event) => {
            change({ registered_as: event.target.value as NonNullable<Job["registered_as"]> });
          }}
          sx={{ minWidth: 220 }}
        >
          {Object.entries(WORDS.RegisteredAs).map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      );
    case "model_year":
      return (
        <NumberReply
          label="Model year"
          wrong={(value) => (/^(19|20)\d\d$/.test(String(value)) ? undefined : "Four digits, such as 2021")}
          onAnswer={(value) => {
            change({ model_year: value });
          }}
        />
      );
    case "bare_vlt":
      return (
        <NumberReply
          label="Bare glass reads, %"
          wrong={(value) => (value >= 0 && value <= 100 ? undefined : "A share of light: 0 to 100 %")}
          onAnswer={(value) => {
            put({ bare_readings_percent: [value], bare_vlt_through_old_film: false });
          }}
        />
      );
    case "strip_depth":
    case "as1_depth":
    case "strip_above_seat": {
      const key = question.asks;
      return (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "start", flexWrap: "wrap" }}>
          <Box sx={{ width: 260 }}>
            <TapeField
              label={readingLabel(key)}
              draftKey={`${question.window_id}.${key}`}
              saved={window?.readings[key]?.typed ?? ""}
              onCommit={(typed) => {
                put({ readings: { [key]: typed === null ? null : { typed, mode: "surface" } } });
              }}
            />
          </Box>
          {key === "as1_depth" && (
            <Button
              onClick={() => {
                put({ as1_mark: false });
              }}
            >
              The glass bears no such line
            </Button>
          )}
        </Box>
      );
    }
    case "film_reflectance":
      return (
        <Button component={Link} to={window?.film_id ? `/films/${window.film_id}` : "/films"}>
          Enter it on the film’s page
        </Button>
      );
    case "law":
      return (
        <Button component={Link} to={`/rules/${state}?field=${encodeURIComponent(question.law_field)}`}>
          Settle it in the rule book
        </Button>
      );
  }
}

function YesNo({ onAnswer }: { onAnswer: (yes: boolean) => void }) {
  return (
    <Box sx={{ display: "flex", gap: 1.5 }}>
      <Button
        onClick={() => {
          onAnswer(true);
        }}
        sx={{ minWidth: 96 }}
      >
        Yes
      </Button>
      <Button
        onClick={() => {
          onAnswer(false);
        }}
        sx={{ minWidth: 96 }}
      >
        No
      </Button>
    </Box>
  );
}

function NumberReply({
  label,
  wrong,
  onAnswer,
}: {
  label: string;
  wrong: (value: number) => string | undefined;
  onAnswer: (value: number) => void;
}) {
  const [text, setText] = useState("");
  const value = Number(text.replace("%", "").trim());
  const reason = text.trim() === "" ? undefined : Number.isNaN(value) ? "A number" : wrong(value);
  const send = () => {
    if (text.trim() !== "" && !reason) onAnswer(value);
  };
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "start" }}>
      <TextField
        label={label}
        value={text}
        error={Boolean(reason)}
        helperText={reason}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") send();
        }}
        slotProps={{ htmlInput: { inputMode: "decimal" } }}
        sx={{ width: 200 }}
      />
      <Button onClick={send} disabled={text.trim() === "" || Boolean(reason)}>
        Keep
      </Button>
    </Box>
  );
}
