import {
  Autocomplete,
  Box,
  Button,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { pickListsQuery } from "../../api/queries";
import { Problem } from "../../api/unwrap";
import { Answer, ErrorNote, focusWhenShown, Pending, SameCarAs } from "../../shared";
import { useCreateJob } from "./api";

/** The car, its state, and its body: the windows come with the body. */
export function NewJobPage() {
  const lists = useQuery(pickListsQuery());
  const create = useCreateJob();
  const navigate = useNavigate();
  const [body, setBody] = useState("sedan");
  const [car, setCar] = useState("");
  const [customer, setCustomer] = useState("");
  const [year, setYear] = useState("");
  const [params, setParams] = useSearchParams();
  const sameAs = params.get("same-as");
  const [chosen, setStates] = useState<string[] | null>(null);
  if (lists.isPending) return <Pending what="bodies and states" />;
  if (lists.isError) return <ErrorNote error={lists.error} again={() => void lists.refetch()} />;
  // The shop's home state; never what the last job was judged by.
  const states = chosen ?? lists.data.home.states;
  const fields = create.error instanceof Problem ? create.error.fields : {};
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    create.write(
      {
        shelf_car_id: sameAs,
        vehicle_label: car,
        customer,
        body,
        states,
        model_year: year ? Number(year) : null,
        title: car,
      },
      { onSuccess: (job) => void navigate(`/jobs/${job.id}/survey`) },
    );
  };
  const yearWrong = year !== "" && !/^(19|20)\d\d$/.test(year);
  return (
    <Box component="form" onSubmit={submit} sx={{ maxWidth: 760 }}>
      <Answer why="Same car as one on the glass shelf: every window is measured already. Else pick the body: its windows come in walkaround order.">
        New job
      </Answer>
      {create.error && <ErrorNote error={create.error} />}
      <SameCarAs
        chosen={sameAs}
        onPick={(same) => {
          setParams(same ? { "same-as": same.id } : {}, { replace: true });
          if (!same) return;
          if (lists.data.bodies.some((style) => style.key === same.body)) setBody(same.body);
          setCar(`${same.name} ${same.years}`.trim());
          if (/^(19|20)\d\d$/.test(same.years)) setYear(same.years);
        }}
      />
      <ToggleButtonGroup
        exclusive
        value={body}
        onChange={(_, value: string | null) => {
          if (value) setBody(value);
        }}
        aria-label="Body"
        sx={{ flexWrap: "wrap", mb: 2 }}
      >
        {lists.data.bodies.map((style) => (
          <ToggleButton key={style.key} value={style.key} sx={{ flexDirection: "column", px: 2.5, py: 1 }}>
            {style.label}
            <Typography variant="caption" component="span">
              {style.windows} windows
            </Typography>
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "2fr 1fr" } }}>
        <TextField
          label="Car"
          required
          value={car}
          onChange={(e) => {
            setCar(e.target.value);
          }}
          inputRef={focusWhenShown}
          error={Boolean(fields["vehicle_label"])}
          helperText={fields["vehicle_label"] ?? "As you would call it in the shop"}
        />
        <TextField
          label="Model year"
          value={year}
          onChange={(e) => {
            setYear(e.target.value.trim());
          }}
          error={yearWrong}
          helperText={yearWrong ? "Four digits, such as 2021" : "Some laws ask for it"}
          slotProps={{ htmlInput: { inputMode: "numeric" } }}
        />
        <Autocomplete
          multiple
          options={lists.data.states.map((state) => state.code)}
          getOptionLabel={(code) => lists.data.states.find((state) => state.code === code)?.name ?? code}
          value={states}
          onChange={(_, value) => {
            setStates(value.slice(0, 6));
          }}
          filterSelectedOptions
          autoHighlight
          renderInput={(params) => (
            <TextField
              {...params}
              label="State (several if it is driven in several)"
              error={Boolean(fields["states"])}
              helperText={fields["states"]}
            />
          )}
        />
        <TextField
          label="Customer"
          value={customer}
          onChange={(e) => {
            setCustomer(e.target.value);
          }}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 2, mt: 1 }}>
        <Button
          type="submit"
          variant="contained"
          color="secondary"
          size="large"
          disabled={create.pending || !car.trim() || states.length === 0 || yearWrong}
        >
          Start the survey
        </Button>
        {states.length === 0 && (
          <Typography color="text.secondary" sx={{ alignSelf: "center" }}>
            A state is needed for the law. <Link to="/shop">Shop</Link> sets the home state once for all jobs.
          </Typography>
        )}
      </Box>
    </Box>
  );
}
