import { Typography } from "@mui/material";
import type { Job } from "../../../../api/client";
import { CAR_FINDINGS } from "../../../../api/words";
import { Problem } from "../../../../api/unwrap";
import { useJobChange } from "../../api";
import { minutesOf } from "../../logic/survey";
import { Findings } from "./Findings";

/** What is found on the car as a whole, and the minutes that all findings add. */
export function CarFindings({ job }: { job: Job }) {
  const { change, error } = useJobChange(job.id);
  const refused = error instanceof Problem ? error.fields : {};
  const minutes = minutesOf([...job.follows, ...job.windows.flatMap((window) => window.follows)]);
  return (
    <>
      {minutes > 0 && (
        <Typography sx={{ fontWeight: 700, mb: 1 }}>What was found adds about {minutes} minutes.</Typography>
      )}
      <Findings
        of={job.id}
        asked={CAR_FINDINGS.map((one) => one.name)}
        answers={job.findings}
        follows={job.follows}
        refusals={Object.fromEntries(
          Object.entries(refused).map(([key, words]) => [key.replace("findings.", ""), words]),
        )}
        change={(findings) => change({ findings })}
      />
    </>
  );
}
