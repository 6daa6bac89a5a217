import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, focusWhenShown, useNotify } from "../../../shared";
import { useSay, useWithdraw, type Rule, type RuleField } from "../api";
import { draftOf, editorOf, valueOf, type Editor } from "../logic/values";

/** Confirm a field as it stands, or overrule it: always with where that is written. */
export function FieldDialog({ rule, field, onClose }: { rule: Rule; field: RuleField; onClose: () => void }) {
  const say = useSay(rule.code);
  const withdraw = useWithdraw();
  const notify = useNotify();
  const editor = editorOf(field.path);
  const [draft, setDraft] = useState(() => draftOf(editor, field.value));
  const [citation, setCitation] = useState(field.source?.citation ?? "");
  const [from, setFrom] = useState(field.source?.effective_from ?? "");
  const [until, setUntil] = useState(field.source?.effective_until ?? "");
  const value = valueOf(editor, draft);
  const same = JSON.stringify(value) === JSON.stringify(field.value);
  const fields = say.error instanceof Problem ? say.error.fields : {};
  const asked = say.error instanceof Problem && say.error.code === "ask_again";
  const submit = () => {
    say.write(
      {
        sure: asked,
        field: field.path,
        value,
        citation,
        effective_from: from,
        effective_until: until,
        replaces: field.source && field.source.effective_from === from ? field.source.word_id : null,
      },
      {
        onSuccess: () => {
          notify(
            `${field.label}: ${same ? "confirmed" : "overruled"}. Jobs keep what they were judged by until judged again.`,
          );
          onClose();
        },
      },
    );
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="field-title">
      <DialogTitle id="field-title">
        {rule.name}: {field.label}
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          On file: <b>{field.words}</b>
          {field.unconfirmed && ", which nobody has confirmed"}.
        </Typography>
        {field.disputed.length > 0 && (
          <Typography sx={{ mb: 1 }}>
            Two readings are on file: {field.disputed.join(" or ")}. The stricter stands until it is settled
            here.
          </Typography>
        )}
        {say.error && Object.keys(fields).length === 0 && <ErrorNote error={say.error} />}
        <Box sx={{ display: "grid", gap: 2, mt: 1.5 }}>
          <ValueEditor editor={editor} draft={draft} onDraft={setDraft} refused={fields["value"]} />
          <TextField
            label="Where it stands"
            value={citation}
            inputRef={focusWhenShown}
            multiline
            onChange={(event) => {
              setCitation(event.target.value);
            }}
            error={Boolean(fields["citation"])}
            helperText={fields["citation"] ?? "Section and page, or who said so and when"}
          />
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2 }}>
            <TextField
              type="date"
              label="Holds from"
              value={from}
              onChange={(event) => {
                setFrom(event.target.value);
              }}
              error={Boolean(fields["effective_from"])}
              helperText={fields["effective_from"] ?? "empty: since ever"}
              slotProps={{ inputLabel: { shrink: true } }}
            />
            <TextField
              type="date"
              label="Until"
              value={until}
              onChange={(event) => {
                setUntil(event.target.value);
              }}
              error={Boolean(fields["effective_until"])}
              helperText={fields["effective_until"] ?? "empty: until further notice"}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        {field.source && (
          <Button
            variant="text"
            disabled={withdraw.pending}
            onClick={() => {
              withdraw.write(field.source?.word_id ?? "", { onSuccess: onClose });
            }}
          >
            Withdraw the shop’s word
          </Button>
        )}
        <Box sx={{ flexGrow: 1 }} />
        <Button variant="text" onClick={onClose}>
          Cancel
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={say.pending || value === undefined}
          onClick={submit}
        >
          {asked ? "Yes, it is so" : same ? "Confirm" : "Overrule"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface EditorProps {
  editor: Editor;
  draft: { choice: string; figure: string };
  onDraft: (draft: { choice: string; figure: string }) => void;
  refused: string | undefined;
}

function ValueEditor({ editor, draft, onDraft, refused }: EditorProps) {
  const choices: [string, string][] =
    editor.kind === "tag" || editor.kind === "choice"
      ? editor.choices
      : editor.kind === "yes_no"
        ? [
            ["yes", "yes"],
            ["no", "no"],
            ["unknown", "not known"],
          ]
        : [];
  const withFigure =
    editor.kind === "tag"
      ? draft.choice === editor.numeric
      : editor.kind !== "choice" && editor.kind !== "yes_no";
  const label =
    editor.kind === "tag" || editor.kind === "number"
      ? `Figure, ${editor.unit}`
      : editor.kind === "list"
        ? "Colours, with commas between"
        : editor.kind === "day"
          ? "Last day"
          : "Text";
  const empty = editor.kind === "number" || editor.kind === "day" ? `empty: ${editor.empty}` : undefined;
  return (
    <Box
      sx={{ display: "grid", gridTemplateColumns: choices.length && withFigure ? "1fr 1fr" : "1fr", gap: 2 }}
    >
      {choices.length > 0 && (
        <TextField
          select
          label="It says"
          value={draft.choice}
          onChange={(event) => {
            onDraft({ ...draft, choice: event.target.value });
          }}
          error={Boolean(refused)}
          helperText={withFigure ? undefined : refused}
        >
          {choices.map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      )}
      {withFigure && (
        <TextField
          label={label}
          value={draft.figure}
          onChange={(event) => {
            onDraft({ ...draft, figure: event.target.value });
          }}
          error={Boolean(refused)}
          helperText={refused ?? empty}
          {...(editor.kind === "day" && { type: "date", slotProps: { inputLabel: { shrink: true } } })}
        />
      )}
    </Box>
  );
}
