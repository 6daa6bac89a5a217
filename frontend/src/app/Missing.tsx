import { Button } from "@mui/material";
import { isRouteErrorResponse, Link, useRouteError } from "react-router";
import { Answer, Empty } from "../shared";

/** An address that is nothing here, or a screen that broke. */
export function Missing() {
  const error = useRouteError();
  // At an address that matches nothing there is no error, not even an undefined one.
  const broke = Boolean(error) && !isRouteErrorResponse(error);
  return (
    <>
      <Answer tone="bad">{broke ? "This screen broke" : "Nothing here"}</Answer>
      <Empty
        words={
          broke
            ? "What you typed is kept; load the page again, and tell the lead if it stays."
            : "There is nothing at this address. It may have been typed wrong, or the job was taken off the lists."
        }
      >
        <Button component={Link} to="/" reloadDocument={broke} variant="contained" color="secondary">
          Back to the bays
        </Button>{" "}
        <Button component={Link} to="/jobs" reloadDocument={broke}>
          Find a job
        </Button>
      </Empty>
    </>
  );
}
