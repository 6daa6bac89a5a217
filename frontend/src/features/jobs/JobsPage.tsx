import { Box, Button, Pagination, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { JobBrief } from "../../api/client";
import { jobsQuery } from "../../api/queries";
import { Answer, Empty, ErrorNote, Head, JobLine, FileButton, Pending, useNotify } from "../../shared";
import { useImportJob, useRemoveJob } from "./api";

/** All jobs, newest first, page by page; search, import, remove with undo. */
export function JobsPage() {
  const [params, setParams] = useSearchParams();
  const search = params.get("q") ?? "";
  const page = Math.max(1, Number(params.get("page")) || 1);
  const asked = useDeferredValue(search);
  const jobs = useQuery(jobsQuery(asked, page));
  const importJob = useImportJob();
  const navigate = useNavigate();
  const look = (q: string, to: number) =>
    setParams({ ...(q ? { q } : {}), ...(to > 1 ? { page: String(to) } : {}) }, { replace: true });
  return (
    <>
      <Head
        buttons={
          <>
            <TextField label="Search" value={search} onChange={(event) => look(event.target.value, 1)} />
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
        <Answer>Jobs</Answer>
      </Head>
      {importJob.error && <ErrorNote error={importJob.error} />}
      {jobs.isPending && <Pending what="the jobs" />}
      {jobs.isError && <ErrorNote error={jobs.error} again={() => void jobs.refetch()} />}
      {jobs.data && (
        <>
          {jobs.data.total === 0 && <NoJobs search={search} />}
          {jobs.data.jobs.map((job) => (
            <Box key={job.id} sx={{ display: "flex", alignItems: "center" }}>
              <Box sx={{ flexGrow: 1, minWidth: 0 }}>
                <JobLine job={job} />
              </Box>
              <RemoveButton job={job} />
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

function NoJobs({ search }: { search: string }) {
  if (search) return <Empty words={`No job has “${search}” in its number, title, car or customer.`} />;
  return (
    <Empty words="No job yet. Start with the car that stands outside.">
      <Button component={Link} to="/jobs/new">
        New job
      </Button>
    </Empty>
  );
}

function RemoveButton({ job }: { job: JobBrief }) {
  const remove = useRemoveJob();
  const notify = useNotify();
  const act = () =>
    remove.write(
      { id: job.id, version: job.version },
      {
        onSuccess: ({ version }) => {
          const undo = () => remove.write({ id: job.id, version, restore: true });
          notify(`${job.title} is off the lists.`, { undo });
        },
        onError: (error) => notify(error.message, { bad: true }),
      },
    );
  return (
    <Button variant="text" onClick={act} aria-label={`Remove ${job.title}`} sx={{ color: "text.secondary" }}>
      Remove
    </Button>
  );
}
