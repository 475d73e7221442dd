import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { body, POST, type Schemas } from "../api/client";
import { refresh } from "../api/refresh";
import { useSend } from "../api/useSend";
import { useGet } from "../api/useGet";

export type Job = Schemas["JobView"];
const ENDED = ["done", "failed", "cancelled"];

/** Follows long work until it ends, then shows what it changed; `Result` is what its kind of work answers when done. */
export function useJob<Result = unknown>(id: string | undefined) {
  const queries = useQueryClient();
  const job = useGet("/api/jobs/{job_id}", id ? { params: { path: { job_id: id } } } : null, {
    refetchInterval: (query) => (query.state.data && ENDED.includes(query.state.data.state) ? false : 200),
  });
  const ended = job.data ? ENDED.includes(job.data.state) : false;
  useEffect(() => {
    if (ended) void refresh(queries, (query) => query.queryKey[0] !== "job");
  }, [ended, queries]);
  const stop = useSend((job_id: string) => body(POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id } } })));
  return {
    job: job.data,
    // The API keeps results of every kind in one field; which it is follows from the job that was started.
    result: job.data?.state === "done" ? (job.data.result as Result) : null,
    running: job.data?.state === "queued" || job.data?.state === "running",
    stop: () => id && stop.mutate(id),
  };
}
