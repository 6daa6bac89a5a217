import { Button } from "@mui/material";
import { Link } from "react-router";
import type { Job, JobWindow } from "../../../../api/client";
import type { Happens } from "../../bay";
import type { Run } from "../../logic/bay";
import { Told } from "./Told";

const BIG = { minHeight: { xs: 56, sm: 88 }, fontSize: { xs: 16, sm: 22 } };

/** A piece was spoilt of which nobody booked the film: what was it? */
export function Scrap({
  job,
  window,
  run,
  happens,
}: {
  job: Job;
  window: JobWindow | null;
  run: Run;
  happens: Happens;
}) {
  const [event] = run.scrap;
  if (window === null || event === undefined) return null;
  return (
    <Told words={`Which piece is scrap? No film is booked as cut for ${window.label}`}>
      <Button component={Link} to={`/jobs/${job.id}/cut?w=${window.id}`} variant="contained" sx={BIG}>
        Its piece: book the cut
      </Button>
      <Button onClick={() => happens({ kind: "no_film", window_id: window.id, event })} sx={BIG}>
        No film off the rack
      </Button>
    </Told>
  );
}
