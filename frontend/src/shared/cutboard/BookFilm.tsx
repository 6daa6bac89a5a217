import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Task } from "../../api/client";
import { Problem } from "../../api/unwrap";
import { ErrorNote } from "../components/states";
import { useSettings } from "../settings";

interface Props {
  plan: NonNullable<Task["plan"]>;
  error: Error | null;
  pending: boolean;
  /** Labels of the offcuts that go back on the rack. */
  onBook: (keep: string[]) => void;
  onClose: () => void;
}

/** A plan was cut as drawn: what comes off the rack, and what of the rest goes back on it. */
export function BookFilm({ plan, error, pending, onBook, onClose }: Props) {
  const { showLength } = useSettings();
  const offcuts = plan.films.flatMap((film) =>
    film.leftovers.filter((rest) => rest.label !== "").map((rest) => ({ ...rest, film: film.film_name })),
  );
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const asked = error instanceof Problem && error.code === "ask_again";
  const pulls = plan.films.flatMap((film) => film.stocks.filter((stock) => stock.used_mm > 0));
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="cut-title">
      <DialogTitle id="cut-title">Book this film off the rack</DialogTitle>
      <DialogContent>
        {error && <ErrorNote error={error} />}
        {pulls.map((stock) => (
          <Typography key={stock.id} sx={{ fontWeight: 700 }}>
            {stock.kind === "roll"
              ? `${showLength(stock.used_mm)} off ${stock.label}`
              : `${stock.label}, all of it`}
            {stock.lot ? `, lot ${stock.lot}` : ""}
          </Typography>
        ))}
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          Less on the roll than that? Book nothing: correct what is left at the <Link to="/rack">Rack</Link>,
          and the plan is made anew from what there is.
        </Typography>
        <Typography sx={{ mt: 1.5 }}>
          {offcuts.length
            ? "Goes back on the rack, with the label to write on it. Take the tick out for what is thrown away."
            : "Nothing is left that is worth keeping."}
        </Typography>
        {offcuts.map((rest) => (
          <Box key={rest.label}>
            <FormControlLabel
              control={
                <Checkbox
                  checked={!left.has(rest.label)}
                  onChange={(_, keep) =>
                    setLeft((before) => {
                      const next = new Set(before);
                      if (keep) next.delete(rest.label);
                      else next.add(rest.label);
                      return next;
                    })
                  }
                />
              }
              label={`${rest.label}: ${showLength(rest.across_mm)} × ${showLength(rest.along_mm)} of ${rest.film}${rest.use ? `, ${rest.use}` : ""}`}
            />
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not yet
        </Button>
        <Button
          variant="contained"
          color="secondary"
          disabled={pending}
          onClick={() => onBook(offcuts.map((rest) => rest.label).filter((label) => !left.has(label)))}
        >
          {asked ? "Yes, cut into held film" : "Yes, film is cut"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
