import { TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Problem } from "../../../api/unwrap";
import { Ruled, useFollowing, useNotify } from "../../../shared";
import { meterQuery, useSetMeter } from "../api";

/** Where the light meter is, and whether it answers. */
export function LightMeter() {
  const state = useQuery(meterQuery());
  const set = useSetMeter();
  const notify = useNotify();
  const [text, setText] = useFollowing(state.data?.address ?? "");
  if (!state.data) return null;
  const { address, version, there, told } = state.data;
  const refused = set.error instanceof Problem ? set.error.fields["address"] : undefined;
  const keep = () => {
    const next = text.trim();
    if (next === "" || next === address) return;
    set.write(
      { address: next, version },
      {
        onSuccess: (found) => notify(found.told),
        onError: (error) => notify(error.message, { bad: true }),
      },
    );
  };
  return (
    <Ruled title="Light meter">
      <TextField
        label="Host and port"
        value={text}
        error={Boolean(refused)}
        helperText={refused ?? "such as 127.0.0.1:8651; readings can always be typed by hand"}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
        }}
        sx={{ maxWidth: 560, width: "100%" }}
      />
      <Typography role="status" sx={{ mt: 0.5, color: there ? "success.main" : "text.secondary" }}>
        {told}
      </Typography>
    </Ruled>
  );
}
