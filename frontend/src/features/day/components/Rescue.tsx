import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ErrorNote } from "../../../shared";
import { rescueQuery, type CarOn, type Sheet } from "../api";

/** What would save a promise that is in danger: tried for real, with what it would do to others. */
export function Rescue({ sheet, car }: { sheet: Sheet; car: CarOn }) {
  const [asked, setAsked] = useState(false);
  const rescue = useQuery(rescueQuery(sheet.day, asked ? car.job_id : null));
  if (car.chance === null || car.chance >= sheet.sure) return null;
  return (
    <Box sx={{ borderLeft: 6, borderColor: "error.main", pl: 1.25, my: 1 }}>
      <Typography sx={{ fontWeight: 700 }}>
        Promised for {car.due_words}: kept on {Math.round(100 * car.chance)} of 100 days
      </Typography>
      {!asked && <Button onClick={() => setAsked(true)}>What would save it?</Button>}
      {rescue.isFetching && <Typography role="status">Trying …</Typography>}
      {rescue.error && <ErrorNote error={rescue.error} />}
      {rescue.data?.ways.map((way) => (
        <Typography key={way.words}>
          <b>{Math.round(100 * way.chance)} %</b> {way.words}
          {way.costs ? `, but ${way.costs}` : ""}
        </Typography>
      ))}
      {rescue.data?.ways.length === 0 && (
        <Typography>Nothing that was tried helps by itself. Call the customer before he comes.</Typography>
      )}
    </Box>
  );
}
