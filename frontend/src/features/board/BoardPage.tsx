import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer, Empty, ErrorNote, Head, JobLine, Pending, Ruled } from "../../shared";
import { boardQuery } from "./api";

/** The first screen: what is in the bays now, what is next, what is stuck. */
export function BoardPage() {
  const board = useQuery(boardQuery());
  if (board.isPending) return <Pending what="the bays" />;
  if (board.isError) return <ErrorNote error={board.error} again={() => void board.refetch()} />;
  const { in_bays, next, stuck, told } = board.data;
  const nothing = in_bays.length + next.length + stuck.length === 0;
  const heldHere = in_bays.filter((job) => job.problems.length > 0).length;
  const all = stuck.length + heldHere;
  return (
    <>
      <Head
        buttons={
          <Button component={Link} to="/jobs/new" variant="contained" color="secondary" size="large">
            New job
          </Button>
        }
      >
        <Answer tone={all ? "bad" : "open"}>
          {nothing
            ? "The bays are empty"
            : all
              ? `${String(all)} stuck, ${String(in_bays.length)} in the bays`
              : `${String(in_bays.length)} in the bays, nothing stuck`}
        </Answer>
      </Head>
      {told.map((words) => (
        <Typography key={words} role="status" sx={{ mb: 1, fontWeight: 700 }}>
          {words} <Link to="/shop">Shop</Link>
        </Typography>
      ))}
      {nothing && (
        <Empty words="No job is open. Make one for the car that comes next, or try sizes with Quick cut.">
          <Button component={Link} to="/quick">
            Quick cut
          </Button>
        </Empty>
      )}
      {!nothing && (
        <Box
          sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" }, columnGap: 5 }}
        >
          <Box>
            <Ruled title="In the bays now">
              {in_bays.length ? (
                in_bays.map((job) => <JobLine key={job.id} job={job} showProblems />)
              ) : (
                <Empty words="No car is in a bay. Open a job and set it to “in the bay”." />
              )}
            </Ruled>
            <Ruled title="Next">
              {next.length ? (
                next.map((job) => <JobLine key={job.id} job={job} />)
              ) : (
                <Empty words="Nothing is booked after these." />
              )}
            </Ruled>
          </Box>
          <Ruled title="Stuck">
            {stuck.length ? (
              stuck.map((job) => <JobLine key={job.id} job={job} showProblems />)
            ) : (
              <Empty words="Nothing is stuck: film, law and readings are in order." />
            )}
          </Ruled>
        </Box>
      )}
    </>
  );
}
