import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Answer, ArchiveButton, Empty, ErrorNote, Head, Pending, useArchive, useLeads } from "../../shared";
import { shelfCarQuery, type ShelfCar } from "./api";
import { CarDialog } from "./components/CarDialog";
import { PaneCard } from "./components/PaneCard";

/** A car of the shelf: its panes, how each came to be as it is, and which jobs used it. */
export function ShelfCarPage() {
  const { carId = "" } = useParams();
  const car = useQuery(shelfCarQuery(carId));
  if (car.isPending) return <Pending what="the car’s glass" />;
  if (car.isError) return <ErrorNote error={car.error} again={() => void car.refetch()} />;
  return car.data.removed ? <Removed car={car.data} /> : <OnShelf car={car.data} />;
}

function Removed({ car }: { car: ShelfCar }) {
  const { restore } = useArchive("shelf_car");
  const lead = useLeads();
  return (
    <Empty words={`${car.name} is archived. Jobs that used it keep what they were cut by.`}>
      {lead && <Button onClick={() => restore(car.id, car.version, car.name)}>Restore</Button>}{" "}
      <Button component={Link} to="/shelf">
        Glass shelf
      </Button>
    </Empty>
  );
}

function OnShelf({ car }: { car: ShelfCar }) {
  const { archive } = useArchive("shelf_car");
  const lead = useLeads();
  const navigate = useNavigate();
  const [dialog, setDialog] = useState<"change" | "duplicate" | null>(null);
  const details = [car.body_label, car.doors === null ? "" : `${car.doors} doors`, car.trim];
  return (
    <>
      <Head
        buttons={
          <>
            <Button component={Link} to={`/jobs/new?same-as=${car.id}`} variant="contained" color="secondary">
              New job with this glass
            </Button>
            <Button onClick={() => setDialog("duplicate")}>Duplicate with changes</Button>
            <Button onClick={() => setDialog("change")}>Rename</Button>
            {lead && (
              <ArchiveButton name={car.name} onArchive={() => archive(car.id, car.version, car.name)} />
            )}
          </>
        }
      >
        <Answer why={details.filter(Boolean).join(" · ")}>{`${car.name} ${car.years}`.trim()}</Answer>
      </Head>
      {car.panes.length === 0 && <Empty words="No pane of this car is left on the shelf." />}
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 340px), 1fr))",
          alignItems: "start",
        }}
      >
        {car.panes.map((pane) => (
          <PaneCard key={pane.id} car={car} pane={pane} />
        ))}
      </Box>
      {dialog && (
        <CarDialog
          car={car}
          duplicate={dialog === "duplicate"}
          onClose={() => setDialog(null)}
          onMade={(made) => {
            setDialog(null);
            if (made.id !== car.id) void navigate(`/shelf/${made.id}`);
          }}
        />
      )}
      <Typography color="text.secondary" sx={{ mt: 2 }}>
        A change makes a new version; a job keeps the version that it was cut by.
      </Typography>
    </>
  );
}
