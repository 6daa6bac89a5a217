import { Autocomplete, Box, Dialog, DialogContent, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { useNavigate } from "react-router";
import { FindByCode, focusWhenShown } from "../shared";
import { findQuery, rackQuery, ruleBookQuery, shelfQuery } from "../api/queries";

interface Found {
  words: string;
  kind: string;
  to: string;
}

/** One box that finds a job, a car of the shelf, a film, a roll or a state. */
export function FindDialog({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const rack = useQuery(rackQuery());
  const rules = useQuery(ruleBookQuery());
  const [typed, setTyped] = useState("");
  const asked = useDeferredValue(typed);
  const shelf = useQuery(shelfQuery(asked));
  const hits = useQuery(findQuery(asked));
  // Offered once all have answered for what is typed: Enter takes the first, which no late answer pushes down.
  const waits =
    [rack, rules, shelf, hits].some((one) => one.isPending || one.isPlaceholderData) || typed !== asked;
  const all: Found[] = [
    // Jobs and customers are found where they are kept, by plate and telephone too.
    ...(hits.data?.hits ?? [])
      .filter((hit) => hit.kind === "Jobs" || hit.kind === "Customers")
      .map((hit) => ({ kind: hit.kind, words: `${hit.words} · ${hit.detail}`, to: hit.to })),
    ...(rack.data?.films ?? []).map((film) => ({ kind: "Films", words: film.name, to: `/films/${film.id}` })),
    ...(shelf.data?.cars ?? []).map((car) => ({
      kind: "Glass shelf",
      words: `${car.name} ${car.years} ${car.trim}`.trim(),
      to: `/shelf/${car.id}`,
    })),
    ...(rules.data?.states ?? []).map((state) => ({
      kind: "Rule book",
      words: `${state.code} ${state.name}`,
      to: `/rules/${state.code}`,
    })),
    ...(rack.data?.stock ?? []).map((stock) => ({
      kind: "Rack",
      words: `${stock.label} · lot ${stock.lot || "not on file"} · ${stock.code}`,
      to: `/rack/${stock.id}`,
    })),
  ];
  const found = waits ? [] : all;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-label="Find">
      <DialogContent>
        <Box sx={{ mb: 1.5 }}>
          <FindByCode onFound={onClose} />
        </Box>
        <Autocomplete
          options={found}
          groupBy={(option) => option.kind}
          getOptionLabel={(option) => option.words}
          getOptionKey={(option) => option.to}
          loading={waits}
          filterOptions={(all, { inputValue }) =>
            narrowed(all, inputValue, inputValue === asked && !hits.isPlaceholderData)
          }
          noOptionsText="Nothing on file has that in its name."
          onInputChange={(_, words) => setTyped(words)}
          openOnFocus
          autoHighlight
          onChange={(_, option) => {
            if (option) {
              onClose();
              void navigate(option.to);
            }
          }}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Find a job, customer, plate, car, film, roll or state"
              inputRef={focusWhenShown}
            />
          )}
        />
      </DialogContent>
    </Dialog>
  );
}

/** What the server found for these very words stays whatever it was found by; all else is narrowed by its own words. */
function narrowed(all: Found[], typed: string, answered: boolean): Found[] {
  const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return all.filter(
    (one) =>
      (answered && (one.kind === "Jobs" || one.kind === "Customers")) ||
      wanted.every((word) => one.words.toLowerCase().includes(word)),
  );
}
