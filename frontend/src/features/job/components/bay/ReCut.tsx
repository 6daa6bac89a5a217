import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Job, JobWindow } from "../../../../api/client";
import { planQuery, taskQuery } from "../../api";
import type { Run } from "../../logic/bay";
import { Told } from "./Told";

/** A spoilt piece is cut again: from which stock, an offcut first, with the rest as it is. */
export function ReCut({ job, window, run }: { job: Job; window: JobWindow | null; run: Run }) {
  const wanted = window !== null && run.cuts_again && run.scrap.length === 0 && window.cut === null;
  const asking = useQuery({ ...planQuery(job.id, job.input_hash), enabled: wanted });
  const task = useQuery(taskQuery(wanted ? asking.data?.id : undefined));
  if (!wanted) return null;
  const plan = task.data?.status === "done" ? task.data.plan : undefined;
  const film = plan?.films.find((one) => one.pieces.some((piece) => piece.window_id === window.id));
  const piece = film?.pieces.find((one) => one.window_id === window.id);
  const stock = film?.stocks.find((one) => one.id === piece?.stock_id);
  const from = stock ? `${stock.kind === "roll" ? "the roll" : `the ${stock.kind}`} ${stock.label}` : null;
  return (
    <Told
      words={
        from ? `Cut it again from ${from}` : plan ? "No film on the rack for it" : "Looking for film for it …"
      }
    >
      <Button
        component={Link}
        to={`/jobs/${job.id}/cut?w=${window.id}`}
        sx={{ minHeight: { xs: 56, sm: 88 }, fontSize: { xs: 16, sm: 22 } }}
      >
        To the cut
      </Button>
    </Told>
  );
}
