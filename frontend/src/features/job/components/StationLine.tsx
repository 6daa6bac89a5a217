import { Box } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../../../api/client";
import { WORDS } from "../../../api/words";
import { useSeesPrices } from "../../../shared";
import { stationMark } from "./Band";

export const STATIONS = Object.entries(WORDS.Station);

/**
 * The stations below the band, the sidings dashed. What old film needs stands there only where there is some, and the
 * quote for who sees prices.
 */
export function StationLine({
  job,
  station,
  search,
  children,
}: {
  job: Job;
  station: string;
  search: string;
  children: React.ReactNode;
}) {
  const prices = useSeesPrices();
  return (
    <Box
      component="nav"
      aria-label="Stations"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        mt: { xs: 0.5, sm: 1 },
        mb: { xs: 1, sm: 2 },
        borderBottom: 1,
        borderColor: "divider",
        "@media print": { display: "none" },
      }}
    >
      {STATIONS.map(([name, words]) => {
        const here = name === station;
        const siding = name === "strip_off" || name === "quote";
        if (name === "strip_off" && !here && !job.windows.some((one) => one.ticks.strip_off !== null))
          return null;
        if (name === "quote" && !here && !prices) return null;
        return (
          <Box
            key={name}
            component={Link}
            to={{ pathname: `/jobs/${job.id}/${name}`, search }}
            aria-current={here ? "page" : undefined}
            sx={{
              px: { xs: 1, sm: 2.5 },
              py: 1,
              color: here ? "background.default" : "text.primary",
              bgcolor: here ? "text.primary" : "transparent",
              textDecoration: "none",
              fontWeight: 700,
              fontSize: "1.1rem",
              // A siding: it branches off before Cut and comes back.
              ...(siding
                ? { border: 1, borderStyle: "dashed", borderColor: "divider", my: 0.5, py: 0.5 }
                : {}),
            }}
          >
            <Box component="span" sx={{ opacity: 0.75, mr: 1, fontWeight: 500 }}>
              {stationMark(name)}
            </Box>
            {words}
          </Box>
        );
      })}
      <Box sx={{ flexGrow: 1 }} />
      {children}
    </Box>
  );
}
