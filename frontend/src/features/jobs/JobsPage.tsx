import { Box, Button, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { JobBrief } from "../../api/client";
import { Answer, Empty, ErrorNote, JobLine, JsonFileButton, Pending, useNotify } from "../../shared";
import { jobsQuery, useImportJob, useRemoveJob } from "./api";

/** All jobs, newest first; search, import, remove with undo. */
export function JobsPage() {
  const jobs = useQuery(jobsQuery());
  const [search, setSearch] = useState("");
  const importJob = useImportJob();
  const navigate = useNavigate();
  if (jobs.isPending) return <Pending what="the jobs" />;
  if (jobs.isError) return <ErrorNote error={jobs.error} again={() => void jobs.refetch()} />;
  const shown = jobs.data.jobs.filter((job) => matches(job, search));
  return (
    <>
      <Box sx={{ display: "flex", gap: 2, alignItems: "start", flexWrap: "wrap", mb: 1 }}>
        <Box sx={{ flexGrow: 1 }}><Answer>Jobs</Answer></Box>
        <TextField label="Search" value={search} onChange={(event) => { setSearch(event.target.value); }} />
        <JsonFileButton words="Open a job file" label="Job file" disabled={importJob.isPending} onChosen={(file) => { importJob.mutate(file, { onSuccess: (job) => void navigate(`/jobs/${job.id}`) }); }} />
        <Button component={Link} to="/jobs/new" variant="contained" color="secondary">New job</Button>
      </Box>
      {importJob.isError && <ErrorNote error={importJob.error} />}
      {jobs.data.jobs.length === 0 && <Empty words="No job yet. Start with the car that stands outside."><Button component={Link} to="/jobs/new">New job</Button></Empty>}
      {jobs.data.jobs.length > 0 && shown.length === 0 && <Empty words={`No job has “${search}” in its number, title, car or customer.`} />}
      {shown.map((job) => (
        <Box key={job.id} sx={{ display: "flex", alignItems: "center" }}>
          <Box sx={{ flexGrow: 1 }}><JobLine job={job} /></Box>
          <RemoveButton job={job} />
        </Box>
      ))}
    </>
  );
}

function matches(job: JobBrief, search: string): boolean {
  const text = `${String(job.number)} ${job.title} ${job.vehicle_label} ${job.customer} ${job.states.join(" ")}`.toLowerCase();
  return search.toLowerCase().split(/\s+/).every((word) => text.includes(word));
}

function RemoveButton({ job }: { job: JobBrief }) {
  const remove = useRemoveJob();
  const notify = useNotify();
  const act = () => {
    remove.mutate(
      { id: job.id, version: job.version },
      {
        onSuccess: (removed) => {
          notify(`${job.title} is off the lists.`, { undo: () => { remove.mutate({ id: job.id, version: removed.version, restore: true }); } });
        },
        onError: (error) => { notify(error.message, { bad: true }); },
      },
    );
  };
  return <Button variant="text" onClick={act} aria-label={`Remove ${job.title}`} sx={{ color: "text.secondary" }}>Remove</Button>;
}
