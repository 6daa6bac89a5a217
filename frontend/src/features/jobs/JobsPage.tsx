import { Box, Button, Pagination, TextField, ToggleButton, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { JobBrief } from "../../api/client";
import { jobsQuery } from "../../api/queries";
import {
  Answer,
  ArchiveButton,
  Empty,
  ErrorNote,
  Head,
  JobLine,
  FileButton,
  Pending,
  useLeads,
  useNotify,
} from "../../shared";
import { useImportJob, useArchiveJob } from "./api";

/** All jobs, newest first, page by page; search, import, archive and restore. */
export function JobsPage() {
  const [params, setParams] = useSearchParams();
  const search = params.get("q") ?? "";
  const page = Math.max(1, Number(params.get("page")) || 1);
  const archived = params.get("archived") === "1";
  const asked = useDeferredValue(search);
  const jobs = useQuery(jobsQuery(asked, page, archived));
  const lead = useLeads();
  const importJob = useImportJob();
  const navigate = useNavigate();
  const look = (q: string, to: number, old = archived) =>
    setParams(
      { ...(q ? { q } : {}), ...(to > 1 ? { page: String(to) } : {}), ...(old ? { archived: "1" } : {}) },
      { replace: true },
    );
  return (
    <>
      <Head
        buttons={
          <>
            <TextField label="Search" value={search} onChange={(event) => look(event.target.value, 1)} />
            <ToggleButton value="archived" selected={archived} onChange={() => look(search, 1, !archived)}>
              Archived
            </ToggleButton>
            <FileButton
              words="Open a job file"
              label="Job file"
              disabled={importJob.pending}
              onChosen={(file) =>
                importJob.write(file, { onSuccess: (job) => void navigate(`/jobs/${job.id}`) })
              }
            />
            <Button component={Link} to="/together">
              Cars together
            </Button>
            <Button component={Link} to="/jobs/new" variant="contained" color="secondary">
              New job
            </Button>
          </>
        }
      >
        <Answer>{archived ? "Archived jobs" : "Jobs"}</Answer>
      </Head>
      {importJob.error && <ErrorNote error={importJob.error} />}
      {jobs.isPending && <Pending what="the jobs" />}
      {jobs.isError && <ErrorNote error={jobs.error} again={() => void jobs.refetch()} />}
      {jobs.data && (
        <>
          {jobs.data.total === 0 && <NoJobs search={search} archived={archived} />}
          {jobs.data.jobs.map((job) => (
            <Box key={job.id} sx={{ display: "flex", alignItems: "center" }}>
              <Box sx={{ flexGrow: 1, minWidth: 0 }}>
                <JobLine job={job} />
              </Box>
              {lead && (archived ? <RestoreButton job={job} /> : <ArchiveJob job={job} />)}
            </Box>
          ))}
          {jobs.data.pages > 1 && (
            <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 2, flexWrap: "wrap" }}>
              <Pagination
                count={jobs.data.pages}
                page={jobs.data.page}
                size="large"
                onChange={(_, to) => look(search, to)}
              />
              <Typography>{jobs.data.total} jobs</Typography>
            </Box>
          )}
        </>
      )}
    </>
  );
}

function NoJobs({ search, archived }: { search: string; archived: boolean }) {
  if (archived && !search) return <Empty words="Nothing is archived." />;
  if (search) return <Empty words={`No job has “${search}” in its number, title, car or customer.`} />;
  return (
    <Empty words="No job yet. Start with the car that stands outside.">
      <Button component={Link} to="/jobs/new">
        New job
      </Button>
    </Empty>
  );
}

/** Asks once; a delivered car stays where it is. */
function ArchiveJob({ job }: { job: JobBrief }) {
  const archive = useArchiveJob();
  const notify = useNotify();
  if (job.status === "delivered") return null;
  const act = () =>
    archive.write(
      { id: job.id, version: job.version },
      {
        onSuccess: ({ version }) => {
          const undo = () => archive.write({ id: job.id, version, restore: true });
          notify(`${job.title} is archived.`, { undo });
        },
        onError: (error) => notify(error.message, { bad: true }),
      },
    );
  return <ArchiveButton name={job.title} onArchive={act} />;
}

function RestoreButton({ job }: { job: JobBrief }) {
  const archive = useArchiveJob();
  const notify = useNotify();
  return (
    <Button
      disabled={archive.pending}
      aria-label={`Restore ${job.title}`}
      onClick={() =>
        archive.write(
          { id: job.id, version: job.version, restore: true },
          {
            onSuccess: () => notify(`${job.title} is back.`),
            onError: (error) => notify(error.message, { bad: true }),
          },
        )
      }
    >
      Restore
    </Button>
  );
}
