import { Box, Button, Typography, useTheme } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Rack, Schemas } from "../../api/client";
import { rackQuery } from "../../api/queries";
import { WORDS } from "../../api/words";
import {
  Answer,
  ArchiveButton,
  ArchivedList,
  ArchivedToggle,
  Empty,
  ErrorNote,
  FindByCode,
  Head,
  Pending,
  showLength,
  showMoney,
  showRoll,
  useArchive,
  useArchived,
  useHome,
  useLeads,
  useSeesPrices,
  useSettings,
} from "../../shared";
import { offcutsQuery } from "./api";
import { SlitDialog } from "./components/SlitDialog";
import { StockDialog } from "./components/StockDialog";

type StockItem = Rack["stock"][number];

/** Rolls and offcuts, drawn as the length that is left. */
export function RackPage() {
  const rack = useQuery(rackQuery());
  const becomes = useQuery(offcutsQuery());
  const prices = useSeesPrices();
  const [edited, setEdited] = useState<StockItem | "new" | null>(null);
  const [archived] = useArchived();
  if (rack.isPending) return <Pending what="the rack" />;
  if (rack.isError) return <ErrorNote error={rack.error} again={() => void rack.refetch()} />;
  if (archived) return <ArchivedList kind="stock" what="film of the rack" />;
  const { films, stock } = rack.data;
  const rolls = stock.filter((item) => item.kind === "roll").length;
  const sheets = stock.filter((item) => item.kind === "sheet").length;
  const longest = Math.max(1, ...stock.map((item) => item.full_length_mm));
  return (
    <>
      <Head
        buttons={
          <>
            <Button
              variant="contained"
              color="secondary"
              disabled={films.length === 0}
              onClick={() => setEdited("new")}
            >
              Put film on the rack
            </Button>
            {prices && (
              <Button component={Link} to="/rack/film">
                To buy, and film used
              </Button>
            )}
            <FindByCode />
            <ArchivedToggle />
            <Button
              component="a"
              href={`/api/labels.pdf?ids=${stock.map((one) => one.id).join(",")}`}
              disabled={stock.length === 0}
              download
            >
              Labels
            </Button>
          </>
        }
      >
        <Answer>
          {rolls} {rolls === 1 ? "roll" : "rolls"}, {sheets ? `${sheets} sheets, ` : ""}
          {stock.length - rolls - sheets} offcuts
        </Answer>
      </Head>
      {films.length === 0 && (
        <Empty words="No film is on file. Enter the film first, then its rolls.">
          <Button component={Link} to="/films">
            Films
          </Button>
        </Empty>
      )}
      {films.length > 0 && stock.length === 0 && (
        <Empty words="The rack is empty. Put the first roll on it: width, length left, price." />
      )}
      {films.map((film) => {
        const mine = stock.filter((item) => item.film_id === film.id);
        if (mine.length === 0) return null;
        return (
          <Box key={film.id} component="section" aria-label={film.name} sx={{ mb: 2.5 }}>
            <Typography variant="h2" sx={{ borderBottom: 1, borderColor: "divider" }}>
              {film.name}
            </Typography>
            {mine.map((item) => (
              <StockLine
                key={item.id}
                item={item}
                told={becomes.data?.offcuts.find((one) => one.stock_id === item.id)}
                longest={longest}
                onEdit={() => {
                  setEdited(item);
                }}
              />
            ))}
          </Box>
        );
      })}
      {edited && (
        <StockDialog
          rack={rack.data}
          item={edited === "new" ? null : edited}
          onClose={() => {
            setEdited(null);
          }}
        />
      )}
    </>
  );
}

const TALL = 1 / 36;

function StockLine({
  item,
  told,
  longest,
  onEdit,
}: {
  item: StockItem;
  told: Schemas["OffcutOut"] | undefined;
  longest: number;
  onEdit: () => void;
}) {
  const home = useHome();
  const { inks } = useTheme();
  const { unit } = useSettings();
  const { archive } = useArchive("stock");
  const lead = useLeads();
  const [slitting, setSlitting] = useState(false);
  const height = Math.max(12, item.width_mm * TALL);
  return (
    <Box
      id={item.id}
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "290px 1fr 250px" },
        gap: 1.5,
        alignItems: "center",
        py: 0.75,
      }}
    >
      <Box>
        <Typography sx={{ fontWeight: 700 }}>
          <Link to={`/rack/${item.id}`}>{item.label}</Link>
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {unit === "in" ? item.width : showLength(item.width_mm, unit)} wide
          {home ? "" : ` · lot ${item.lot || "not on file"}`} · {WORDS.LinerSide[item.liner]}
          {item.place && ` · at ${item.place}`}
        </Typography>
        {told && <Becomes told={told} />}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <svg
          width="58%"
          height={height}
          preserveAspectRatio="none"
          viewBox={`0 0 1000 ${String(height)}`}
          role="img"
          aria-label={`${showLength(item.length_left_mm, unit)} left of ${showLength(item.full_length_mm, unit)}`}
        >
          <rect
            x={1}
            y={1}
            width={(998 * item.full_length_mm) / longest}
            height={height - 2}
            fill="none"
            stroke={inks.rule}
            vectorEffect="non-scaling-stroke"
            strokeDasharray="3 4"
          />
          <rect
            x={1}
            y={1}
            width={(998 * item.length_left_mm) / longest}
            height={height - 2}
            fill={inks.shade}
            fillOpacity={0.35}
            stroke={inks.ink}
            vectorEffect="non-scaling-stroke"
          />
          {item.held_mm > 0 && (
            <rect
              x={1 + (998 * item.free_mm) / longest}
              y={1}
              width={(998 * item.held_mm) / longest}
              height={height - 2}
              fill={inks.sun}
              fillOpacity={0.6}
              stroke={inks.ink}
              vectorEffect="non-scaling-stroke"
            />
          )}
        </svg>
        <Typography sx={{ whiteSpace: "nowrap" }}>
          <b>{showRoll(item.length_left_mm, unit)}</b> left
          {item.held_mm > 0 ? (
            <>
              {" · "}
              <b>{showRoll(item.held_mm, unit)}</b> held
            </>
          ) : (
            item.price_per_m2 !== null && ` · ${showMoney(item.price_per_m2)}/m²`
          )}
        </Typography>
      </Box>
      <Box sx={{ textAlign: "right" }}>
        <Button size="small" onClick={onEdit} aria-label={`Change ${item.label}`}>
          Change
        </Button>
        {item.kind === "roll" && (
          <Button
            size="small"
            variant="text"
            onClick={() => setSlitting(true)}
            aria-label={`Slit ${item.label}`}
          >
            Slit
          </Button>
        )}
        {lead && (
          <ArchiveButton name={item.label} onArchive={() => archive(item.id, item.version, item.label)} />
        )}
        {slitting && <SlitDialog item={item} onClose={() => setSlitting(false)} />}
      </Box>
    </Box>
  );
}

/** What an offcut can still become, the first of it, or that it should go. */
function Becomes({ told }: { told: Schemas["OffcutOut"] }) {
  const [first, ...others] = told.could_become;
  if (told.old)
    return (
      <Typography variant="body2" color="error.main">
        Old, fits nothing booked: throw it away?
      </Typography>
    );
  return (
    <Typography variant="body2" color="text.secondary">
      {first
        ? `Becomes: ${first.words}${others.length ? `, and ${others.length} more` : ""}`
        : "Fits nothing booked"}
    </Typography>
  );
}
