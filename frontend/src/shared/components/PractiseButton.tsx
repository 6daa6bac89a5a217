import { Button } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { unwrap } from "../../api/unwrap";
import { useNotify } from "../undo";
import { asItIs, useWrite } from "../write";

/** Begins a run on the practice glass and goes there. */
export function PractiseButton({
  on,
  words = "Practise this pane",
  main = false,
}: {
  on: Schemas["BeginBody"];
  words?: string;
  main?: boolean;
}) {
  const navigate = useNavigate();
  const notify = useNotify();
  const begin = useWrite({
    prepare: asItIs<Schemas["BeginBody"]>,
    send: (body, headers) => unwrap(api.POST("/api/practice/runs", { body, headers })),
  });
  return (
    <Button
      variant={main ? "contained" : "outlined"}
      color={main ? "secondary" : "primary"}
      size={main ? "large" : "medium"}
      disabled={begin.pending}
      onClick={() =>
        begin.write(on, {
          onSuccess: (run) => void navigate(`/practice/${run.id}`),
          onError: (error) => notify(error.message, { bad: true }),
        })
      }
    >
      {begin.pending ? "Getting it ready …" : words}
    </Button>
  );
}

/** For the lead: this window becomes what learners practise today. */
export function TodaysLesson({ window }: { window: { id: string; label: string } }) {
  const person = useQuery(sessionQuery()).data?.person;
  const client = useQueryClient();
  const notify = useNotify();
  const set = useWrite({
    scope: "practice-today",
    prepare: asItIs<string>,
    send: async (windowId, headers) => {
      const home = await unwrap(api.GET("/api/practice"));
      const body = { window_id: windowId, note: "", version: home.today_version };
      return unwrap(api.PUT("/api/practice/today", { body, headers }));
    },
    onDone: () => void client.invalidateQueries({ queryKey: ["practice"] }),
  });
  if (person?.role !== "lead" && person?.role !== "owner") return null;
  return (
    <Button
      disabled={set.pending}
      onClick={() =>
        set.write(window.id, {
          onSuccess: () => notify(`${window.label} is today’s lesson on the practice glass.`),
          onError: (error) => notify(error.message, { bad: true }),
        })
      }
    >
      Today’s lesson
    </Button>
  );
}
