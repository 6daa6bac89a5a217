import { Box } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../../api/client";
import { sessionQuery } from "../../../api/queries";
import { ErrorNote, PickOne, Ruled, useNotify } from "../../../shared";
import { schoolQuery, useSetSchool } from "../api";

type Body = Schemas["SchoolBody"];

/** How the shop shrinks where it has its own way; Heat says where that goes before what was computed. */
export function ShrinkSchool() {
  const school = useQuery(schoolQuery());
  const session = useQuery(sessionQuery());
  const set = useSetSchool();
  const notify = useNotify();
  if (!school.data) return school.isError ? <ErrorNote error={school.error} /> : null;
  const { asks, water, hand, place, version } = school.data;
  const lead = ["lead", "owner"].includes(session.data?.person?.role ?? "");
  const put = (ask: string, answer: string | null) =>
    set.write({ water, hand, place, [ask]: answer, version } as Body, {
      onSuccess: () => notify("Heat goes by this, and says where it was computed otherwise."),
    });
  return (
    <Ruled title="School of shrinking">
      <Box
        component="fieldset"
        disabled={!lead}
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "repeat(3, 1fr)" },
          gap: 1.5,
          maxWidth: 960,
          border: 0,
          p: 0,
          m: 0,
          mt: 1,
        }}
      >
        {asks.map((one) => (
          <PickOne
            key={one.ask}
            label={one.label}
            value={school.data[one.ask as keyof Body] as string | null}
            none="as computed"
            options={Object.entries(one.options)}
            onChange={(answer) => put(one.ask, answer)}
          />
        ))}
      </Box>
      {set.error && <ErrorNote error={set.error} />}
    </Ruled>
  );
}
