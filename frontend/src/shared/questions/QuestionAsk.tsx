import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Question } from "../../api/client";
import { READING_LABELS, WORDS } from "../../api/words";
import { Several } from "../fields/Fields";
import { TapeField } from "../components/TapeField";
import { numberOf, type Reply } from "./reply";

interface Props {
  question: Question;
  /** Whose law raises it. */
  state: string;
  /** The reading that is kept, where a tape reading is asked for. */
  saved?: string;
  onReply: (reply: Reply) => void;
  /** Where a pane that is missing is added, when there is such a place. */
  addGlass?: ReactNode;
}

/** A missing fact, asked and answered where it is missed. */
export function QuestionAsk(props: Props) {
  return (
    <Box
      data-question={props.question.asks}
      sx={{
        borderLeft: 6,
        borderColor: "secondary.main",
        bgcolor: "background.paper",
        px: 1.5,
        py: 1,
        my: 1,
      }}
    >
      <Typography sx={{ fontWeight: 700, mb: 0.75 }}>{props.question.text}</Typography>
      <Answering {...props} />
    </Box>
  );
}

function Answering({ question, state, saved = "", onReply, addGlass }: Props) {
  switch (question.asks) {
    case "mirrors_both_sides":
      return <YesOrNo onAnswer={(yes) => onReply({ car: { mirrors_both_sides: yes } })} />;
    case "factory_glass":
      return <YesOrNo onAnswer={(yes) => onReply({ window: { factory_glass: yes } })} />;
    case "film_finish":
      return <YesOrNo onAnswer={(yes) => onReply({ film: { mirror_finish: yes } })} />;
    case "built_as":
      return question.fact === "persons" ? (
        <NumberReply
          label="Persons"
          low={1}
          high={100}
          onAnswer={(persons) => onReply({ car: { persons } })}
        />
      ) : (
        <YesOrNo onAnswer={(yes) => onReply({ car: { [question.fact]: yes } })} />
      );
    case "glass_there":
      return <GlassThere onReply={onReply} addGlass={addGlass} />;
    case "registered_as":
      return (
        <TextField
          select
          label="Registered as"
          value=""
          onChange={(event) => onReply({ car: { registered_as: event.target.value as "sedan" } })}
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
          low={1900}
          high={2100}
          onAnswer={(model_year) => onReply({ car: { model_year } })}
        />
      );
    case "bare_vlt":
      return (
        <NumberReply
          label="Bare glass reads, %"
          onAnswer={(value) =>
            onReply({ window: { bare_readings_percent: [value], bare_vlt_through_old_film: false } })
          }
        />
      );
    case "film_reflectance":
      return (
        <NumberReply
          label="Reflectance by its sheet, %"
          onAnswer={(reflectance_percent) => onReply({ film: { reflectance_percent } })}
        />
      );
    case "film_colour":
      return <ColourReply onAnswer={(colours) => onReply({ film: { colours } })} />;
    case "strip_depth":
    case "as1_depth":
    case "strip_above_seat": {
      const key = question.asks;
      return (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "start", flexWrap: "wrap" }}>
          <Box sx={{ width: 260 }}>
            <TapeField
              label={READING_LABELS[key]}
              draftKey={`${question.window_id}.${key}`}
              saved={saved}
              onCommit={(typed) =>
                onReply({
                  window: { readings: { [key]: typed === null ? null : { typed, mode: "surface" } } },
                })
              }
            />
          </Box>
          {key === "as1_depth" && (
            <Button onClick={() => onReply({ window: { as1_mark: false } })}>
              The glass bears no such line
            </Button>
          )}
        </Box>
      );
    }
    case "law":
      return (
        <Button component={Link} to={`/rules/${state}?field=${encodeURIComponent(question.law_field)}`}>
          Settle it in the rule book
        </Button>
      );
  }
}

function YesOrNo({ onAnswer }: { onAnswer: (yes: boolean) => void }) {
  return (
    <Box sx={{ display: "flex", gap: 1.5 }}>
      <Button onClick={() => onAnswer(true)} sx={{ minWidth: 96 }}>
        Yes
      </Button>
      <Button onClick={() => onAnswer(false)} sx={{ minWidth: 96 }}>
        No
      </Button>
    </Box>
  );
}

function GlassThere({ onReply, addGlass }: { onReply: Props["onReply"]; addGlass: ReactNode }) {
  const [filmed, setFilmed] = useState(false);
  return (
    <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "start" }}>
      <Button onClick={() => onReply({ glass: { there: false } })}>There is none</Button>
      {addGlass ?? (
        <>
          <Button aria-pressed={filmed} onClick={() => setFilmed(!filmed)}>
            {filmed ? "With film on it" : "Without film"}
          </Button>
          <NumberReply
            label="It passes, %"
            onAnswer={(percent) => onReply({ glass: { there: true, percent, filmed } })}
          />
        </>
      )}
    </Box>
  );
}

type Colours = NonNullable<NonNullable<Reply["film"]>["colours"]>;

function ColourReply({ onAnswer }: { onAnswer: (colours: Colours) => void }) {
  const [colours, setColours] = useState<Colours>([]);
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "start" }}>
      <Box sx={{ width: 260, display: "grid" }}>
        <Several
          label="Colours to the eye"
          value={colours}
          options={WORDS.Colour}
          none="none chosen yet"
          onChange={setColours}
        />
      </Box>
      <Button onClick={() => onAnswer(colours)} disabled={colours.length === 0}>
        Keep
      </Button>
    </Box>
  );
}

function NumberReply({
  label,
  low = 0,
  high = 100,
  onAnswer,
}: {
  label: string;
  low?: number;
  high?: number;
  onAnswer: (value: number) => void;
}) {
  const [text, setText] = useState("");
  const { value, wrong } = numberOf(text, low, high);
  const send = () => {
    if (value !== undefined) onAnswer(value);
  };
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "start" }}>
      <TextField
        label={label}
        value={text}
        error={Boolean(wrong)}
        helperText={wrong}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") send();
        }}
        slotProps={{ htmlInput: { inputMode: "decimal" } }}
        sx={{ width: 220 }}
      />
      <Button onClick={send} disabled={value === undefined}>
        Keep
      </Button>
    </Box>
  );
}
