import { useIsMutating, type QueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Job, WriteHeaders } from "../../api/client";
import { Problem } from "../../api/unwrap";
import { stands, useNotify, useWrite } from "../../shared";
import { raiseConflict } from "./conflicts";
import { clashes, settled } from "./logic/conflict";
import { jobQuery } from "./queries";

function keepAnswer(job: Job, client: QueryClient): void {
  stands(client, jobQuery(job.id).queryKey, job);
  // Film that is cut, or taken back, changes the rack.
  void client.invalidateQueries({ queryKey: ["rack"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "board"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "list"], refetchType: "none" });
  void client.invalidateQueries({ queryKey: ["jobs", "history", job.id] });
}

/**
 * Writes of one job go out one after another, each on the version that the last one answered
 * with, so that a late answer never covers a newer one.
 */
export function useJobWrite<Change, Body>(
  jobId: string,
  prepare: (change: Change, job: Job) => Body,
  send: (body: Body, headers: WriteHeaders) => Promise<Job>,
  mend?: Mend<Change>,
  /** What is told once it is done, also where what asked for it is gone from the screen. */
  told?: string,
) {
  const notify = useNotify();
  const again = useRef<(change: Change) => void>(() => undefined);
  const made = useWrite({
    scope: `job-${jobId}`,
    prepare: (change: Change, client) => {
      const job = client.getQueryData(jobQuery(jobId).queryKey);
      if (!job) throw new Problem("The job is not on this screen any more. Open it again.", "not_found");
      return prepare(change, job);
    },
    send,
    onDone: (job, client) => {
      keepAnswer(job, client);
      if (told !== undefined) notify(told);
    },
    onRefused: (error, client, change) => {
      const stale = error instanceof Problem && error.code === "stale_version";
      if (stale && mend) {
        void meetConflict(error, change, mend, client, jobId, again.current, notify);
        return;
      }
      if (stale) void client.invalidateQueries({ queryKey: jobQuery(jobId).queryKey });
      const asks =
        error instanceof Problem && (error.code === "ask_again" || Object.keys(error.fields).length > 0);
      if (stale || (error instanceof Problem && !asks)) notify(error.message, { bad: true });
    },
  });
  useEffect(() => {
    again.current = (change) => made.write(change);
  });
  return made;
}

/** Whether a write of the job is on its way; one that waits for the network is not. */
export function useJobBusy(jobId: string): boolean {
  const scope = `job-${jobId}`;
  const sent = useIsMutating({
    predicate: ({ options, state }) => options.scope?.id === scope && !state.isPaused,
  });
  return sent > 0;
}

/** How a write that met another one is taken apart, and put together again. */
interface Mend<Change> {
  mine: (change: Change) => Record<string, unknown>;
  kept: (change: Change, fields: Record<string, unknown>) => Change;
}

/** What clashes is asked field by field; what does not is sent again, and told. */
async function meetConflict<Change>(
  error: Problem,
  change: Change,
  mend: Mend<Change>,
  client: QueryClient,
  jobId: string,
  again: (change: Change) => void,
  notify: ReturnType<typeof useNotify>,
): Promise<void> {
  const mine = mend.mine(change);
  const found = clashes(mine, error.body?.changed ?? []);
  // The version to write on is the one that is read now.
  await client.refetchQueries({ queryKey: jobQuery(jobId).queryKey });
  if (found.length === 0) {
    again(change);
    notify("Somebody else changed this too, but something else: both are kept.");
    return;
  }
  raiseConflict({
    clashes: found,
    settle: (theirs) => {
      const fields = settled(mine, theirs);
      if (Object.keys(fields).length) again(mend.kept(change, fields));
      else notify("Theirs is kept; nothing of yours was saved.");
    },
  });
}
