import { Button } from "@mui/material";
import { Link } from "react-router";
import { Answer } from "../shared";

/** The address of an enrolment code, opened on a device that is signed in already. */
export function Enrolled() {
  return (
    <>
      <Answer why="A code enrols a device on which nobody sits. Lock this screen first, then open the code again.">
        Somebody sits here already
      </Answer>
      <Button component={Link} to="/">
        Back to the bays
      </Button>
    </>
  );
}
