import { Checkbox, FormControlLabel, FormGroup, MenuItem, TextField, Typography } from "@mui/material";
import type { Job, JobWindow } from "../../../api/client";
import { Row } from "../../../shared";

/** What a document of an exemption says of itself, as typed. */
export interface Paper {
  state: string;
  issued: string;
  expires: string;
  noExpiry: boolean;
  least: string;
  citation: string;
  also: string[];
}

/** The document starts with the car's first state; one that is on file for another window is taken over. */
export function paperOf(job: Job): Paper {
  const known = job.windows.find((one) => one.reason?.kind === "medical_exemption")?.reason;
  return {
    state: known?.state || (job.states[0] ?? ""),
    issued: known?.issued_on ?? "",
    expires: known?.expires_on ?? "",
    noExpiry: known?.no_expiry ?? false,
    least: known?.least_percent == null ? "" : String(known.least_percent),
    citation: known?.citation ?? "",
    also: [],
  };
}

export const NOTHING_SAID = {
  state: "",
  issued_on: "",
  expires_on: "",
  no_expiry: false,
  least_percent: null,
  citation: "",
  also: [],
};

/** As it is sent. */
export const said = (paper: Paper) => ({
  state: paper.state,
  issued_on: paper.issued,
  expires_on: paper.noExpiry ? "" : paper.expires,
  no_expiry: paper.noExpiry,
  least_percent: paper.least.trim() === "" ? null : Number(paper.least),
  citation: paper.citation,
  also: paper.also,
});

/** One document for a car: its days, what it asks for, where its cover is written, and the windows it is applied to. */
export function ExemptionFields({
  job,
  window,
  paper,
  fields,
  onChange,
}: {
  job: Job;
  window: JobWindow;
  paper: Paper;
  fields: Record<string, string>;
  onChange: (paper: Paper) => void;
}) {
  const set = (more: Partial<Paper>) => {
    onChange({ ...paper, ...more });
  };
  const others = job.windows.filter(
    (one) => one.id !== window.id && one.held_at === "shade" && one.film_id !== null,
  );
  const date = (name: "issued" | "expires", label: string, field: string, disabled = false) => (
    <TextField
      type="date"
      label={label}
      value={disabled ? "" : paper[name]}
      disabled={disabled}
      onChange={(event) => {
        set({ [name]: event.target.value });
      }}
      error={Boolean(fields[field])}
      helperText={fields[field]}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ flexGrow: 1 }}
    />
  );
  return (
    <>
      <Row>
        <TextField
          select
          label="Issued by"
          value={paper.state}
          onChange={(event) => {
            set({ state: event.target.value });
          }}
          error={Boolean(fields["state"])}
          helperText={fields["state"]}
          sx={{ minWidth: 110 }}
        >
          {job.states.map((code) => (
            <MenuItem key={code} value={code}>
              {code}
            </MenuItem>
          ))}
        </TextField>
        {date("issued", "Issued on", "issued_on")}
        {date("expires", "Expires on", "expires_on", paper.noExpiry)}
      </Row>
      <FormControlLabel
        label="The document names no expiry"
        control={
          <Checkbox
            checked={paper.noExpiry}
            onChange={(_, on) => {
              set({ noExpiry: on });
            }}
          />
        }
      />
      <TextField
        label="Least light it asks for, % (if it names one)"
        value={paper.least}
        error={Boolean(fields["least_percent"]) || Number.isNaN(Number(paper.least))}
        helperText={fields["least_percent"]}
        onChange={(event) => {
          set({ least: event.target.value });
        }}
        slotProps={{ htmlInput: { inputMode: "decimal" } }}
      />
      <TextField
        label="Where it is written what it covers"
        value={paper.citation}
        error={Boolean(fields["citation"])}
        helperText={
          fields["citation"] ?? "Needed where the state’s record does not say: section, page, who was asked."
        }
        onChange={(event) => {
          set({ citation: event.target.value });
        }}
      />
      {others.length > 0 && (
        <FormGroup aria-label="The same document for" role="group">
          <Typography>The same document for</Typography>
          {others.map((one) => (
            <FormControlLabel
              key={one.id}
              label={`${one.label} (${one.worst ?? ""})`}
              control={
                <Checkbox
                  checked={paper.also.includes(one.id)}
                  onChange={(_, on) => {
                    set({ also: on ? [...paper.also, one.id] : paper.also.filter((id) => id !== one.id) });
                  }}
                />
              }
            />
          ))}
        </FormGroup>
      )}
    </>
  );
}
