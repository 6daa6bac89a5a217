import { TextField, Typography } from "@mui/material";
import { Problem } from "../../../api/unwrap";
import { Ruled, useFollowing, useNotify } from "../../../shared";

interface State {
  address: string;
  version: number;
  there: boolean;
  told: string;
}

interface Setter {
  error: Error | null;
  write: (
    change: { address: string; version: number },
    then: { onSuccess: (state: State) => void; onError: (error: Error) => void },
  ) => void;
}

/** Where a device is on the shop's network, and whether it answers. */
export function DeviceAddress({
  title,
  hint,
  state,
  set,
}: {
  title: string;
  hint: string;
  state: State | undefined;
  set: Setter;
}) {
  const notify = useNotify();
  const [text, setText, given] = useFollowing(state?.address ?? "");
  if (!state) return null;
  const { address, version, there, told } = state;
  const refused = set.error instanceof Problem ? set.error.fields["address"] : undefined;
  const keep = () => {
    given();
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
    <Ruled title={title}>
      <TextField
        label="Host and port"
        value={text}
        error={Boolean(refused)}
        helperText={refused ?? hint}
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
