import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { WORDS } from "../../../api/words";
import {
  ErrorNote,
  FittedDialog,
  PaneShape,
  PractiseButton,
  Row,
  showLength,
  useNotify,
  useSettings,
} from "../../../shared";
import { useOnPane, type ShelfCar, type ShelfPane } from "../api";
import { cornersOf, fittedWords } from "../logic/fitted";
import { PaneDialog } from "./PaneDialog";

/** One pane: its outline and size, what was found, how it fitted, and all it ever was. */
export function PaneCard({ car, pane }: { car: ShelfCar; pane: ShelfPane }) {
  const { unit } = useSettings();
  const notify = useNotify();
  const on = useOnPane(car.id);
  const [open, setOpen] = useState<"fitted" | "change" | null>(null);
  const { content } = pane;
  const refuse = (error: Error) => notify(error.message, { bad: true });
  const alone =
    content.side !== "centre" &&
    !car.panes.some(
      (one) =>
        one.content.position === content.position &&
        one.content.kind === content.kind &&
        one.content.side !== content.side,
    );
  return (
    <Box
      component="article"
      aria-label={content.label}
      sx={{ border: 1, borderColor: "divider", bgcolor: "background.paper", p: 1.5 }}
    >
      <Row>
        <Typography variant="h2" sx={{ flexGrow: 1 }}>
          {content.label}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          version {pane.revision}
        </Typography>
      </Row>
      <Shape pane={pane} />
      {pane.problem ? (
        <ErrorNote error={pane.problem} />
      ) : (
        <Typography variant="size" component="p" sx={{ fontWeight: 700 }}>
          {pane.width_mm && pane.height_mm
            ? `${showLength(pane.width_mm, unit)} × ${showLength(pane.height_mm, unit)}`
            : "not measured"}
          {pane.measured ? "" : ", size only"}
        </Typography>
      )}
      <Typography variant="body2">
        {WORDS.WindowKind[content.kind]}, {WORDS.Curve[content.curve ?? "flat"]}
        {pane.same_as ? `; mirror image of ${pane.same_as}` : ""}
        {content.measured_by ? `; measured by ${content.measured_by}` : ""}
        {content.trim ? `; ${content.trim}` : ""}
      </Typography>
      {pane.told && <Typography variant="body2">{pane.told}</Typography>}
      {content.fitted && (
        <Typography
          sx={{ fontWeight: 700, color: content.fitted.word === "right" ? "success.main" : "error.main" }}
        >
          {fittedWords(content.fitted)}
        </Typography>
      )}
      <Box sx={{ my: 1 }}>
        <Row gap={1}>
          <Button size="small" onClick={() => setOpen("fitted")}>
            How it fitted
          </Button>
          <Button size="small" onClick={() => setOpen("change")}>
            Change
          </Button>
          {!pane.problem && <PractiseButton on={{ pane_id: pane.id }} words="Practise" />}
          {alone && (
            <Button
              size="small"
              onClick={() =>
                on.write(
                  { id: pane.id, act: { what: "other-side", version: pane.version } },
                  { onError: refuse },
                )
              }
            >
              Make the other side
            </Button>
          )}
          {(["svg", "dxf", "csv"] as const).map((kind) => (
            <Button
              key={kind}
              size="small"
              variant="text"
              component="a"
              href={`/api/shelf/panes/${pane.id}/file/${kind}`}
              download
            >
              {kind.toUpperCase()}
            </Button>
          ))}
        </Row>
      </Box>
      <Versions pane={pane} />
      <Uses pane={pane} />
      {open === "fitted" && (
        <FittedDialog
          label={content.label}
          corners={cornersOf(content.figure ?? "four")}
          onClose={() => setOpen(null)}
          onTold={(told) =>
            on.write(
              { id: pane.id, act: { what: "fitted", body: { ...told, version: pane.version } } },
              { onSuccess: () => setOpen(null), onError: refuse },
            )
          }
        />
      )}
      {open === "change" && <PaneDialog carId={car.id} pane={pane} onClose={() => setOpen(null)} />}
    </Box>
  );
}

function Shape({ pane }: { pane: ShelfPane }) {
  if (pane.ring.length < 3) return null;
  const wide = Math.max(...pane.ring.map(([x = 0]) => x), 1);
  const high = Math.max(...pane.ring.map(([, y = 0]) => y), 1);
  const scale = Math.min(300 / wide, 112 / high);
  return (
    <Box
      component="svg"
      viewBox="0 0 312 120"
      role="img"
      aria-label={`${pane.content.label}, seen from outside`}
      sx={{ width: "100%", color: "text.primary" }}
    >
      <PaneShape
        ring={pane.ring}
        measured={pane.measured}
        scale={scale}
        left={(312 - wide * scale) / 2}
        base={60 + (high * scale) / 2}
        fill="currentColor"
        fillOpacity={0.08}
        stroke="currentColor"
        strokeWidth={2}
      />
    </Box>
  );
}

function Versions({ pane }: { pane: ShelfPane }) {
  return (
    <Box component="details">
      <Box component="summary" sx={{ cursor: "pointer", minHeight: 28 }}>
        {pane.revisions.length} {pane.revisions.length === 1 ? "version" : "versions"}
      </Box>
      {pane.revisions.map((one) => (
        <Typography key={one.revision} variant="body2">
          {one.revision}: {one.why || "as it came"} · {one.person} ·{" "}
          {new Date(one.at).toLocaleDateString("en-US")}
        </Typography>
      ))}
    </Box>
  );
}

function Uses({ pane }: { pane: ShelfPane }) {
  if (pane.uses.length === 0) return null;
  return (
    <Box component="details">
      <Box component="summary" sx={{ cursor: "pointer", minHeight: 28 }}>
        Used by {pane.uses.length} {pane.uses.length === 1 ? "window" : "windows"}
      </Box>
      {pane.uses.map((one, i) => (
        <Typography key={i} variant="body2">
          <Link to={`/jobs/${one.job_id}`} style={{ color: "inherit" }}>
            {one.number} {one.title}
          </Link>
          : {one.window}, version {one.revision ?? "not known"}
        </Typography>
      ))}
    </Box>
  );
}
