import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { Problem } from "../../../api/unwrap";
import { ErrorNote, useShelfCarFields } from "../../../shared";
import { useOnCar, type ShelfCar } from "../api";

interface Props {
  car: ShelfCar;
  duplicate: boolean;
  onClose: () => void;
  onMade: (car: ShelfCar) => void;
}

/** What a car is called; or the same glass under another name. */
export function CarDialog({ car, duplicate, onClose, onMade }: Props) {
  const on = useOnCar(car.id);
  const { said, ready, show } = useShelfCarFields({ ...car, years: duplicate ? "" : car.years });
  const refused = on.error instanceof Problem ? on.error.fields : {};
  const put = () =>
    on.write(
      duplicate
        ? { what: "duplicate", body: said }
        : { what: "change", body: { ...said, version: car.version } },
      { onSuccess: onMade },
    );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="car-title">
      <DialogTitle id="car-title">
        {duplicate ? `The glass of ${car.name}, for another car` : "What it is called"}
      </DialogTitle>
      <DialogContent>
        {on.error && Object.keys(refused).length === 0 && <ErrorNote error={on.error} />}
        {show(refused)}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" color="secondary" disabled={on.pending || !ready} onClick={put}>
          {duplicate ? "Put it on the shelf" : "Keep"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
