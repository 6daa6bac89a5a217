import {
  Autocomplete,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Job } from "../../../../api/client";
import { pickListsQuery } from "../../../../api/queries";
import { WORDS } from "../../../../api/words";
import {
  Answer,
  Choice,
  FieldGrid,
  numberOf,
  Row,
  Ruled,
  showLength,
  TextLine,
  TwoColumns,
  useFollowing,
  useSettings,
  YesNo,
} from "../../../../shared";
import { historyQuery, useAddWindow, useJobChange } from "../../api";

interface Props {
  job: Job;
  onSelect: (id: string | null) => void;
}

/** The car as a whole: facts the law asks for, and where the survey stands. */
export function WholeCarSurvey({ job, onSelect }: Props) {
  const open = job.windows.filter((window) => window.ticks.survey !== "done").length;
  const words = open ? `${open} of ${job.windows.length} windows still to measure` : "All glass measured";
  return (
    <>
      <Answer tone={open ? "open" : "good"}>{words}</Answer>
      <TwoColumns shares="2fr 1fr">
        <AllWindows job={job} onSelect={onSelect} />
        <div>
          <VehicleFacts job={job} />
          <History job={job} />
        </div>
      </TwoColumns>
    </>
  );
}

function AllWindows({ job, onSelect }: Props) {
  const { unit } = useSettings();
  const { add } = useAddWindow(job.id);
  const further = () =>
    add({ label: `Window ${job.windows.length + 1}`, position: "rear_side", kind: "fixed_side" }, onSelect);
  return (
    <div>
      <Table size="small" aria-label="Windows">
        <TableHead>
          <TableRow>
            <TableCell>Window</TableCell>
            <TableCell>Position</TableCell>
            <TableCell align="right">Size</TableCell>
            <TableCell>Curve</TableCell>
            <TableCell align="right">Bare glass</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {job.windows.map((window) => {
            const { width_mm: width, height_mm: height } = window.pane;
            return (
              <TableRow key={window.id} hover>
                <TableCell>
                  <Button variant="text" onClick={() => onSelect(window.id)}>
                    {window.label}
                  </Button>
                </TableCell>
                <TableCell>{WORDS.Position[window.position]}</TableCell>
                <TableCell align="right">
                  {width && height
                    ? `${showLength(width, unit)} × ${showLength(height, unit)}`
                    : "not measured"}
                </TableCell>
                <TableCell>{WORDS.Curve[window.curve]}</TableCell>
                <TableCell align="right">
                  {window.bare_vlt_percent === null
                    ? "not known"
                    : `${window.bare_vlt_percent} % ${window.bare_vlt_source}`}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      <Button sx={{ mt: 1 }} onClick={further}>
        Add a window
      </Button>
    </div>
  );
}

/** What the law asks of the car; also where a job that is stuck may be mended. */
export function VehicleFacts({ job }: { job: Job }) {
  const { change } = useJobChange(job.id);
  const lists = useQuery(pickListsQuery());
  const states = lists.data?.states ?? [];
  return (
    <Ruled title="What the law asks of the car">
      <FieldGrid columns={1}>
        <Autocomplete
          multiple
          options={states.map((state) => state.code)}
          getOptionLabel={(code) => states.find((state) => state.code === code)?.name ?? code}
          value={job.states}
          onChange={(_, value) => {
            if (value.length) change({ states: value.slice(0, 6) });
          }}
          autoHighlight
          renderInput={(params) => <TextField {...params} label="States" />}
        />
        <Choice
          label="Class"
          value={job.vehicle_class}
          options={WORDS.VehicleClass}
          onChange={(value) => change({ vehicle_class: value })}
        />
        <YesNo
          label="Outside mirrors on both sides"
          value={job.mirrors_both_sides}
          unknown="not looked at yet"
          onChange={(value) => change({ mirrors_both_sides: value })}
        />
        <YearField job={job} onYear={(year) => change({ model_year: year })} />
        <Choice
          label="Registered as"
          value={job.registered_as ?? "unknown"}
          options={{ unknown: "not looked at yet", ...WORDS.RegisteredAs }}
          onChange={(value) => change({ registered_as: value === "unknown" ? null : value })}
        />
        {job.class_contradiction && (
          <Typography role="alert" sx={{ color: "error.main", fontWeight: 700 }}>
            {job.class_contradiction}
          </Typography>
        )}
        <BuiltAs job={job} />
        {job.two_lots_allowed && (
          <Row>
            <Typography>Pairs may be cut from two lots.</Typography>
            <Button size="small" onClick={() => change({ two_lots_allowed: false })}>
              Keep each pair on one lot
            </Button>
          </Row>
        )}
        {job.no_glass_at.length > 0 && (
          <Row>
            <Typography>
              No glass at: {job.no_glass_at.map((position) => WORDS.Position[position]).join(", ")}.
            </Typography>
            <Button size="small" onClick={() => change({ no_glass_at: [] })}>
              Take that back
            </Button>
          </Row>
        )}
      </FieldGrid>
    </Ruled>
  );
}

/** What some states mean by a multipurpose vehicle; asked of no other car. */
function BuiltAs({ job }: { job: Job }) {
  const { change } = useJobChange(job.id);
  const saved = job.persons === null ? "" : String(job.persons);
  const [text, setText] = useFollowing(saved);
  const { value, wrong } = numberOf(text, 1, 100);
  if (job.vehicle_class !== "multipurpose") return null;
  return (
    <>
      <TextLine
        label="Made for so many persons"
        value={text}
        problem={wrong}
        hint="as some states define a multipurpose vehicle"
        inputMode="numeric"
        onChange={setText}
        onBlur={() => {
          if (!wrong && text !== saved) change({ persons: value ?? null });
        }}
      />
      <YesNo
        label="Built on a truck chassis"
        value={job.truck_chassis}
        unknown="not looked at yet"
        onChange={(truck_chassis) => change({ truck_chassis })}
      />
      <YesNo
        label="Parts for off-road use"
        value={job.off_road_parts}
        unknown="not looked at yet"
        onChange={(off_road_parts) => change({ off_road_parts })}
      />
    </>
  );
}

function YearField({ job, onYear }: { job: Job; onYear: (year: number | null) => void }) {
  const saved = job.model_year === null ? "" : String(job.model_year);
  const [text, setText] = useFollowing(saved);
  const wrong = text !== "" && !/^(19|20)\d\d$/.test(text);
  return (
    <TextLine
      label="Model year"
      value={text}
      problem={wrong ? "Four digits, such as 2021" : undefined}
      onChange={(value) => setText(value.trim())}
      onBlur={() => {
        if (!wrong && text !== saved) onYear(text ? Number(text) : null);
      }}
    />
  );
}

const CLOCK = { hour: "numeric", minute: "2-digit" } as const;

function History({ job }: { job: Job }) {
  const history = useQuery(historyQuery(job.id));
  return (
    <Ruled title="Who changed what">
      {history.data?.entries.slice(0, 8).map((entry, i) => (
        <Typography key={i} variant="body2" sx={{ py: 0.25 }}>
          {new Date(entry.at).toLocaleTimeString("en-US", CLOCK)} · {entry.person} {entry.action} {entry.what}
          {entry.action === "changed" ? `: ${entry.fields.join(", ").replace(/_/g, " ")}` : ""}
        </Typography>
      ))}
    </Ruled>
  );
}
