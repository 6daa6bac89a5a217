import { Autocomplete, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { shelfCarQuery, shelfQuery } from "../../api/queries";

type Brief = Pick<Schemas["ShelfCarBrief"], "id" | "name" | "years" | "body" | "doors" | "trim"> & {
  panes: readonly unknown[];
};

/** The car on the glass shelf whose glass this one has, found by words in any order. */
export function SameCarAs({
  chosen,
  onPick,
}: {
  chosen: string | null;
  onPick: (car: Brief | null) => void;
}) {
  const [typed, setTyped] = useState("");
  const found = useQuery(shelfQuery(useDeferredValue(typed)));
  const one = useQuery({ ...shelfCarQuery(chosen ?? ""), enabled: chosen !== null });
  const [picked, setPicked] = useState<Brief | null>(null);
  const here = picked ?? one.data ?? null;
  // Asked for by the address: the form is filled once the car is known.
  const filled = useRef(false);
  useEffect(() => {
    if (one.data && !picked && !filled.current) {
      filled.current = true;
      onPick(one.data);
    }
  });
  return (
    <Autocomplete
      options={found.data?.cars ?? []}
      filterOptions={(all) => all}
      getOptionLabel={nameOf}
      getOptionKey={(car) => car.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      value={here}
      loading={found.isPending}
      noOptionsText="No car on the shelf has all these words."
      onInputChange={(_, words, reason) => {
        if (reason === "input") setTyped(words);
      }}
      onChange={(_, car) => {
        setPicked(car);
        filled.current = true;
        onPick(car);
      }}
      sx={{ mb: 2 }}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Same glass as one on the shelf"
          helperText={
            here
              ? `${here.panes.length} panes come measured`
              : "Car, year, trim in any order; leave it empty for new glass"
          }
        />
      )}
    />
  );
}

function nameOf(car: Brief): string {
  const doors = car.doors === null ? "" : `${car.doors} doors`;
  return [`${car.name} ${car.years}`.trim(), doors, car.trim].filter(Boolean).join(" · ");
}
