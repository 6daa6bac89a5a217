import { Autocomplete, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { pickListsQuery } from "../../../api/queries";
import { Ruled, useNotify } from "../../../shared";
import { useSetHome } from "../api";

/** Where the shop is: new jobs are judged by the law of these states until somebody says others. */
export function HomeStates() {
  const lists = useQuery(pickListsQuery());
  const set = useSetHome();
  const notify = useNotify();
  if (!lists.data) return null;
  const { states, home } = lists.data;
  return (
    <Ruled title="Home state">
      <Autocomplete
        multiple
        options={states.map((state) => state.code)}
        getOptionLabel={(code) => states.find((state) => state.code === code)?.name ?? code}
        value={home.states}
        filterSelectedOptions
        autoHighlight
        onChange={(_, chosen) => {
          if (chosen.length)
            set.write(
              { states: chosen.slice(0, 6), version: home.record_version },
              {
                onSuccess: () => notify("New jobs start with this."),
                onError: (error) => notify(error.message, { bad: true }),
              },
            );
        }}
        renderInput={(params) => (
          <TextField
            {...params}
            label="New jobs are judged by the law of"
            helperText={home.states.length ? undefined : "Not said yet: every new job asks for its state."}
          />
        )}
        sx={{ maxWidth: 560 }}
      />
    </Ruled>
  );
}
