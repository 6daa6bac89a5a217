import { Box, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { Link } from "react-router";
import type { CarOn, Sheet } from "../api";

/** The cars of the day: when each comes, is ready, was promised, and how sure that is. */
export function CarList({
  sheet,
  picked,
  onPick,
}: {
  sheet: Sheet;
  picked: string | null;
  onPick: (jobId: string) => void;
}) {
  return (
    <Box sx={{ overflowX: "auto", mt: 1 }}>
      <Table
        size="small"
        aria-label="Cars of the day"
        sx={{ "& td, & th": { py: 0.5, px: 1, whiteSpace: "nowrap" } }}
      >
        <TableHead>
          <TableRow>
            <TableCell>Car</TableCell>
            <TableCell>Comes</TableCell>
            <TableCell>Ready</TableCell>
            <TableCell>Promised</TableCell>
            <TableCell>Kept on</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {sheet.cars.map((car) => (
            <TableRow
              key={car.job_id}
              hover
              selected={car.job_id === picked}
              onClick={() => onPick(car.job_id)}
              sx={{ cursor: "pointer" }}
            >
              <TableCell>
                <Box
                  component={Link}
                  to={`/jobs/${car.job_id}/bay`}
                  sx={{ color: "text.primary", fontWeight: 700 }}
                >
                  {car.number}
                </Box>{" "}
                {car.title}
                {car.waits_here ? ", waits here" : ""}
              </TableCell>
              <TableCell>{car.arrives_words || (car.booked ? "" : "is here")}</TableCell>
              <TableCell>{car.ready_words || (car.stuck ? "stuck" : "nothing left")}</TableCell>
              <TableCell>{car.due_words || "nothing"}</TableCell>
              <TableCell>
                <Sure car={car} sure={sheet.sure} />
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

/** On how many days of a hundred the promise is kept, with a mark and a word where that is too few. */
export function Sure({ car, sure }: { car: CarOn; sure: number }) {
  if (car.chance === null) return <Box component="span">no promise</Box>;
  const danger = car.chance < sure;
  return (
    <Box component="span" sx={{ display: "inline-flex", alignItems: "center", gap: 1 }}>
      <Box
        component="svg"
        width={60}
        height={10}
        aria-hidden
        sx={{ color: danger ? "error.main" : "success.main" }}
      >
        <rect width={60} height={10} fill="none" stroke="currentColor" />
        <rect width={60 * car.chance} height={10} fill="currentColor" />
      </Box>
      <Box component="span" sx={{ fontWeight: 700, color: danger ? "error.main" : "text.primary" }}>
        {Math.round(100 * car.chance)} %{danger ? " in danger" : ""}
      </Box>
    </Box>
  );
}
