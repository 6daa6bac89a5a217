import { Button } from "@mui/material";
import type { Job, JobWindow } from "../../../../api/client";
import { useNotify } from "../../../../shared";
import { useWindowChange } from "../../api";
import type { ShrinkView, Tried } from "../../heat";

/** The tried line kept, or let go; the film turned. */
export function LineButtons({
  job,
  window,
  view,
  tried,
  onTry,
}: {
  job: Job;
  window: JobWindow;
  view: ShrinkView;
  tried: Tried;
  onTry: (tried: Tried) => void;
}) {
  const { change } = useWindowChange(job.id);
  const notify = useNotify();
  const { anchor } = view;
  const isTried = tried.height_mm !== undefined || tried.turned !== undefined || tried.best === true;
  const keep = () => {
    const before = {
      cross_line_mm: window.cross_line_mm,
      cross_slope: window.cross_slope,
      film_turned: window.film_turned,
    };
    change(window.id, {
      cross_line_mm: anchor.best ? null : anchor.height_mm,
      cross_slope: anchor.best ? 0 : anchor.slope,
      film_turned: anchor.turned,
    });
    onTry({});
    notify(`${window.label}: ${anchor.best ? "best line" : "this line"} kept.`, {
      undo: () => change(window.id, before),
    });
  };
  return (
    <>
      <Button onClick={() => onTry({ turned: !anchor.turned, best: true })} aria-pressed={anchor.turned}>
        {anchor.turned ? "Film the usual way" : "Turn the film"}
      </Button>
      {!anchor.best && (
        <Button onClick={() => onTry({ turned: anchor.turned, best: true })}>Best line</Button>
      )}
      {isTried && (
        <Button variant="contained" onClick={keep}>
          Keep this line
        </Button>
      )}
      {isTried && (
        <Button variant="text" onClick={() => onTry({})}>
          As it was
        </Button>
      )}
    </>
  );
}
