import { Box, Button, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../../../../api/client";
import { Answer, Empty, ErrorNote, Ruled, TwoColumns } from "../../../../shared";
import { useKeepLook, type CarLook } from "../../look";
import { nextLook, standardWords } from "../../logic/look";

/** All windows: which are clean, which are not, and what still holds the car. */
export function WholeCarLook({
  job,
  car,
  onSelect,
}: {
  job: Job;
  car: CarLook;
  onSelect: (id: string | null) => void;
}) {
  const keep = useKeepLook(job.id);
  const filmed = car.windows.filter((one) => one.film_id !== "");
  if (filmed.length === 0)
    return (
      <>
        <Answer>{car.headline}</Answer>
        <Empty words="There is nothing to look at before film is on. Choose films at Shade.">
          <Button component={Link} to={`/jobs/${job.id}/shade`}>
            Shade
          </Button>
        </Empty>
      </>
    );
  return (
    <>
      <Answer tone={car.holds.length === 0 ? "good" : "open"}>{car.headline}</Answer>
      {keep.error && <ErrorNote error={keep.error} />}
      <TwoColumns shares="1.6fr 1fr">
        <Ruled title="Windows">
          {filmed.map((one) => (
            <Box
              key={one.window_id}
              data-look-row={one.label}
              sx={{
                display: "flex",
                gap: 1.5,
                alignItems: "center",
                borderBottom: 1,
                borderColor: "divider",
                py: 0.5,
              }}
            >
              <Typography sx={{ flexGrow: 1 }}>
                <b>{one.label}</b>: {one.answer}
                {one.word ? ` · ${one.word} by the reading` : ""}
              </Typography>
              {one.final === null && (
                <Button
                  disabled={keep.pending || !one.made}
                  onClick={() =>
                    keep.write({
                      windowId: one.window_id,
                      body: { when: nextLook(one), clean: true, rulers: {} },
                    })
                  }
                >
                  Clean{nextLook(one) === "final" ? ", at the end" : ""}
                </Button>
              )}
              <Button onClick={() => onSelect(one.window_id)}>Open</Button>
            </Box>
          ))}
        </Ruled>
        <Box>
          <Ruled title="Holds the car here">
            {car.holds.length === 0 && <Typography>Nothing.</Typography>}
            {car.holds.map((one) => (
              <Typography key={one.words}>• {one.words}</Typography>
            ))}
            {car.holds.length === 0 && (
              <Button component={Link} to={`/jobs/${job.id}/handover`} variant="contained" sx={{ mt: 1 }}>
                To Handover
              </Button>
            )}
          </Ruled>
          <Ruled
            title={car.standard.own ? "The shop’s standard" : "Our standard"}
            action={
              <Button size="small" variant="text" component={Link} to="/shop/standard">
                Write your own
              </Button>
            }
          >
            <Typography color="text.secondary">
              Counted per {car.standard.unit}; all else: none may stay.
            </Typography>
            {standardWords(car).map((words) => (
              <Typography key={words}>{words}</Typography>
            ))}
          </Ruled>
        </Box>
      </TwoColumns>
    </>
  );
}
