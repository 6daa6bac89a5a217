import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableRow,
} from "@mui/material";
import { focusWhenShown } from "../shared";

const KEYS: [string, string][] = [
  ["?", "these keys"],
  ["/", "find a job, customer, plate, film, lot, roll, car or state"],
  ["B  D  J  Q  R", "bays, day, jobs, quick cut, rack"],
  ["C  P", "who calls?; practice glass"],
  ["G  L  W", "glass shelf; look up one window; rule book"],
  ["N", "new job"],
  ["1 to 7", "stations of a job, Survey to Handover; S strip-off, $ quote"],
  ["← →", "walk round the car, window by window"],
  ["Home", "the whole car"],
  ["Enter", "next reading; on the practice glass: press"],
  ["Space", "on the practice glass: heat; arrows move the hand, Shift farther"],
  ["Esc", "take back what was typed in a size"],
];

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {KEYS.map(([key, words]) => (
              <TableRow key={key}>
                <TableCell sx={{ fontFamily: '"B612 Mono", monospace', whiteSpace: "pre" }}>{key}</TableCell>
                <TableCell>{words}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} ref={focusWhenShown}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
