import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import { Row, Ruled, Switch, useHome } from "../../../../shared";
import type { Handover } from "../../handover";

const SIZES = { letter: "Letter", a4: "A4" } as const;

/** The set in one touch; each paper by itself, or what it lacks and where that is given. */
export function Papers({ job, car }: { job: Job; car: Handover }) {
  const home = useHome();
  const [size, setSize] = useState<keyof typeof SIZES>("letter");
  const ready = car.papers.filter((one) => one.ready).length;
  const url = (name: string) => `/api/jobs/${job.id}/papers/${name}?paper=${size}`;
  return (
    <Ruled
      title="Papers"
      action={<Switch label="Paper size" value={size} options={SIZES} onChange={setSize} />}
    >
      <Row>
        <Button
          variant="contained"
          component="a"
          href={url("set")}
          target="_blank"
          rel="noreferrer"
          sx={{ minHeight: 52 }}
        >
          Print the set ({ready} papers)
        </Button>
        <Button component="a" href={`/api/jobs/${job.id}/customer-file`} download sx={{ minHeight: 52 }}>
          File for the customer
        </Button>
      </Row>
      {car.papers
        .filter((one) => !home || one.name !== "certificate")
        .map((one) => (
          <Box
            key={one.name}
            data-paper={one.name}
            sx={{
              display: "flex",
              gap: 1.5,
              alignItems: "baseline",
              borderBottom: 1,
              borderColor: "divider",
              py: 0.5,
            }}
          >
            <Box sx={{ flexGrow: 1 }}>
              <Typography component="span" sx={{ fontWeight: 700 }}>
                {one.ready ? "✓" : "✕"} {one.words}
              </Typography>
              {one.told && <Typography component="span"> · {one.told}</Typography>}
              {one.missing.slice(0, 3).map((lack) => (
                <Typography key={lack.words} color="text.secondary">
                  lacks {lack.words},{" "}
                  <Link to={placeOf(job, lack)} style={{ color: "inherit" }}>
                    at {lack.at}
                  </Link>
                </Typography>
              ))}
              {one.missing.length > 3 && (
                <Typography color="text.secondary">and {one.missing.length - 3} more</Typography>
              )}
            </Box>
            {one.ready && (
              <Button size="small" component="a" href={url(one.name)} target="_blank" rel="noreferrer">
                Print
              </Button>
            )}
          </Box>
        ))}
    </Ruled>
  );
}

function placeOf(job: Job, lack: Handover["papers"][number]["missing"][number]): string {
  if (lack.station !== null) return `/jobs/${job.id}/${lack.station}`;
  if (lack.at === "People") return "/people";
  return lack.at === "Films" ? "/films" : "/shop";
}
