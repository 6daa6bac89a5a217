import { Box, Button, TextField, Typography } from "@mui/material";
import { useEffect, useId, useRef, useState } from "react";
import { parseLength, withUnit } from "../logic/length";
import { useSettings } from "../settings";

const SETTLE_MS = 220;

/** Whether readings are being tapped: then each following field brings its keypad along. */
let tapped = false;

interface Props {
  label: string;
  /** What is saved, as typed; empty when nothing is. */
  saved: string;
  /** Names this field among drafts, so that what was refused survives a reload. */
  draftKey: string;
  /** Why the server refused the last value. */
  refused?: string | undefined;
  /** Called with what was typed once it is a length; with null when emptied. */
  onCommit: (typed: string | null) => void;
  onFocus?: () => void;
  onNext?: () => void;
  hint?: string;
  /** Takes the field when it is shown, or keeps it for whoever moves the focus. */
  inputRef?: (element: HTMLInputElement | null) => void;
  lit?: boolean;
  optional?: boolean;
}

/** A size typed as on a tape. Refused where it is typed, with the reason; never lost. */
export function TapeField({
  label,
  saved,
  draftKey,
  refused,
  onCommit,
  onFocus,
  onNext,
  hint,
  inputRef,
  lit,
  optional,
}: Props) {
  const id = useId();
  const { unit } = useSettings();
  const meant = (value: string) => withUnit(value, unit);
  const storeKey = `elumbra.draft.${draftKey}`;
  const [text, setText] = useState(() => sessionStorage.getItem(storeKey) ?? saved);
  const [keypad, setKeypad] = useState(false);
  const sent = useRef(saved);
  const timer = useRef<number | undefined>(undefined);
  const pressed = useRef(false);

  // What is saved elsewhere shows here, unless something else is being typed.
  useEffect(() => {
    if (sent.current !== saved && sessionStorage.getItem(storeKey) === null) setText(saved);
    const draft = sessionStorage.getItem(storeKey);
    if (draft !== null && withUnit(draft, unit) === saved) sessionStorage.removeItem(storeKey);
    sent.current = saved;
  }, [saved, storeKey, unit]);
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
    },
    [],
  );

  const parsed = text.trim() === "" ? null : parseLength(meant(text));
  const reason = parsed && !parsed.ok ? parsed.reason : text.trim() !== saved ? refused : undefined;

  const commit = (value: string) => {
    window.clearTimeout(timer.current);
    const typed = meant(value);
    if (typed === saved) return;
    if (typed === "") onCommit(null);
    else if (parseLength(typed).ok) onCommit(typed);
  };
  const change = (value: string) => {
    setText(value);
    if (value.trim() === saved) sessionStorage.removeItem(storeKey);
    else sessionStorage.setItem(storeKey, value);
    window.clearTimeout(timer.current);
    // An unfinished fraction ("39 3/") is left alone; a finished length settles in a moment.
    if (value.trim() !== "" && parseLength(meant(value)).ok)
      timer.current = window.setTimeout(() => {
        commit(value);
      }, SETTLE_MS);
  };
  const next = () => {
    commit(text);
    setKeypad(false);
    onNext?.();
  };

  return (
    <Box sx={{ position: "relative" }}>
      <TextField
        id={id}
        {...(inputRef ? { inputRef } : {})}
        label={optional ? `${label} (if read)` : label}
        value={text}
        fullWidth
        autoComplete="off"
        error={Boolean(reason)}
        helperText={reason ?? hint}
        onChange={(event) => {
          change(event.target.value);
        }}
        onBlur={() => {
          setKeypad(false);
          commit(text);
          // What a bare number was taken to mean is shown once the hand has left the field.
          if (parsed?.ok) setText(meant(text));
        }}
        onFocus={() => {
          onFocus?.();
          if (tapped && !pressed.current) setKeypad(true);
        }}
        onPointerDown={(event) => {
          pressed.current = true;
          tapped = event.pointerType === "touch";
        }}
        // Not before the finger is up: the keypad may come to lie under it.
        onClick={() => {
          pressed.current = false;
          if (tapped) setKeypad(true);
        }}
        onKeyDown={(event) => {
          // A real keyboard, or a meter that types like one, needs no keypad.
          tapped = false;
          if (event.key === "Enter") {
            event.preventDefault();
            next();
          }
          if (event.key === "Escape") {
            sessionStorage.removeItem(storeKey);
            setText(saved);
            setKeypad(false);
          }
        }}
        slotProps={{
          htmlInput: {
            "data-tape": draftKey,
            inputMode: keypad ? "none" : "text",
            style: { fontFamily: '"B612 Mono", monospace' },
          },
        }}
        sx={
          lit
            ? { "& .MuiOutlinedInput-notchedOutline": { borderColor: "secondary.main", borderWidth: 3 } }
            : {}
        }
      />
      {keypad && (
        <Keypad
          label={label}
          text={text}
          onText={change}
          onNext={next}
          onClose={() => {
            tapped = false;
            setKeypad(false);
          }}
        />
      )}
    </Box>
  );
}

const FRACTIONS = [
  "1/2",
  "1/4",
  "3/4",
  "1/8",
  "3/8",
  "5/8",
  "7/8",
  "1/16",
  "3/16",
  "5/16",
  "7/16",
  "9/16",
  "11/16",
  "13/16",
  "15/16",
];

/** For wet fingers: whole inches first, then halves to sixteenths. */
function Keypad({
  label,
  text,
  onText,
  onNext,
  onClose,
}: {
  label: string;
  text: string;
  onText: (text: string) => void;
  onNext: () => void;
  onClose: () => void;
}) {
  const whole = text.replace(/\s*\d+\/\d+$/, "").trim();
  const key = (words: string, act: () => void, wide = false) => (
    <Button
      key={words}
      onPointerDown={(event) => {
        event.preventDefault();
      }}
      onClick={act}
      variant="outlined"
      sx={{ minHeight: 64, minWidth: 0, fontSize: "1.25rem", px: 0, gridColumn: wide ? "span 2" : undefined }}
    >
      {words}
    </Button>
  );
  return (
    <Box
      role="group"
      aria-label="Tape keypad"
      sx={{
        position: "fixed",
        left: 0,
        right: 0,
        bottom: 0,
        zIndex: 1300,
        bgcolor: "background.default",
        borderTop: 3,
        borderColor: "text.primary",
        p: 2,
      }}
    >
      <Typography variant="answer" component="p" sx={{ mb: 1, minHeight: "2.8rem" }}>
        <Box component="span" sx={{ fontSize: "1.1rem", fontWeight: 600, mr: 1.5, letterSpacing: 0 }}>
          {label}
        </Box>
        {text || "0"}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(5, 1fr)", gap: 1, mb: 1 }}>
        {["1", "2", "3", "4", "5", "6", "7", "8", "9", "0"].map((digit) =>
          key(digit, () => {
            onText(whole + digit);
          }),
        )}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(5, 1fr)", gap: 1, mb: 1 }}>
        {FRACTIONS.map((fraction) =>
          key(fraction, () => {
            onText(`${whole} ${fraction}`.trim());
          }),
        )}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(5, 1fr)", gap: 1 }}>
        {key("Clear", () => {
          onText("");
        })}
        {key("Close", onClose, true)}
        {key("Next reading", onNext, true)}
      </Box>
    </Box>
  );
}
