import { Autocomplete, Button, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Job } from "../../../../api/client";
import { pickListsQuery } from "../../../../api/queries";
import { WORDS } from "../../../../api/words";
import { Choice, FieldGrid, numberOf, Row, Ruled, TextLine, useFollowing, YesNo } from "../../../../shared";
import { useJobChange } from "../../api";

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
  const [text, setText, given] = useFollowing(saved);
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
          given();
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
  const [text, setText, given] = useFollowing(saved);
  const wrong = text !== "" && !/^(19|20)\d\d$/.test(text);
  return (
    <TextLine
      label="Model year"
      value={text}
      problem={wrong ? "Four digits, such as 2021" : undefined}
      onChange={(value) => setText(value.trim())}
      onBlur={() => {
        given();
        if (!wrong && text !== saved) onYear(text ? Number(text) : null);
      }}
    />
  );
}
