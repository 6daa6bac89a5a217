import { useState } from "react";
import type { Job, Schemas } from "../../../api/client";
import { api } from "../../../api/client";
import { unwrap } from "../../../api/unwrap";
import { useNotify, type Hand } from "../../../shared";
import { useWindowChange } from "../api";
import { useJobBusy } from "../writing";

type Put = Schemas["PutByHand"];

/** Pieces put by hand are kept with their windows; ten seconds to take each move back. */
export function useHand(job: Job): Hand {
  const notify = useNotify();
  const [film, choose] = useState<string | null>(null);
  const [picked, pick] = useState<string | null>(null);
  const { change } = useWindowChange(job.id);
  const putsOf = (windowId: string): Put[] =>
    job.windows.find((window) => window.id === windowId)?.by_hand ?? [];
  return {
    tryPlace: (piece, place) =>
      unwrap(
        api.GET("/api/jobs/{id}/places", {
          params: {
            path: { id: job.id },
            query: { window_id: piece.window_id, part: piece.part as Put["part"], ...place },
          },
        }),
      ),
    put: (piece, place) => {
      const before = putsOf(piece.window_id);
      const part = piece.part as Put["part"];
      const { stock_id: stock, x_mm, y_mm, turn } = place;
      change(piece.window_id, {
        by_hand: [...before.filter((one) => one.part !== part), { part, stock, x_mm, y_mm, turn }],
      });
      notify(`${piece.label} stays where you put it; all others are laid anew.`, {
        undo: () => change(piece.window_id, { by_hand: before }),
      });
    },
    letGo: (pieces) => {
      const windows = [...new Set(pieces.map((piece) => piece.window_id))];
      const before = windows.map((id) => [id, putsOf(id)] as const);
      for (const id of windows) change(id, { by_hand: [] });
      notify(
        pieces.length === 1
          ? `${pieces[0]?.label ?? ""} is planned like the others again.`
          : "All are planned again.",
        {
          undo: () => {
            for (const [id, puts] of before) change(id, { by_hand: puts });
          },
        },
      );
    },
    busy: useJobBusy(job.id),
    told: (words) => notify(words, { bad: true }),
    film,
    choose,
    picked,
    pick,
  };
}
