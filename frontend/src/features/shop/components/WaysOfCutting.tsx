import { Box } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../../api/client";
import { sessionQuery } from "../../../api/queries";
import { WORDS } from "../../../api/words";
import { Choice, ErrorNote, PickOne, Ruled, useNotify } from "../../../shared";
import { useSetOwnWay, useSetShopWay, waysQuery } from "../api";

/** How new jobs are cut: as the shop does it, or as the one likes it who makes the job. */
export function WaysOfCutting() {
  const ways = useQuery(waysQuery());
  const session = useQuery(sessionQuery());
  const shop = useSetShopWay();
  const own = useSetOwnWay();
  const notify = useNotify();
  if (!ways.data) return ways.isError ? <ErrorNote error={ways.error} /> : null;
  const told = { onSuccess: () => notify("New jobs start with this; each job and window can have its own.") };
  const lead = ["lead", "owner"].includes(session.data?.person?.role ?? "");
  return (
    <Ruled title="Way of cutting">
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" },
          gap: 1.5,
          maxWidth: 640,
          mt: 1,
        }}
      >
        <Choice
          label="The shop cuts"
          value={ways.data.shop}
          options={WORDS.CutMethod}
          disabled={!lead}
          hint={lead ? undefined : "A lead sets it."}
          onChange={(way) => shop.write({ way, version: ways.data.shop_version }, told)}
        />
        <PickOne
          label={`${session.data?.person?.name ?? "I"}’s own jobs`}
          value={ways.data.own}
          none="as the shop"
          options={Object.entries(WORDS.CutMethod)}
          onChange={(way) =>
            own.write({ way: way as Schemas["CutMethod"] | null, version: ways.data.own_version }, told)
          }
        />
      </Box>
      {(shop.error ?? own.error) && <ErrorNote error={shop.error ?? own.error} />}
    </Ruled>
  );
}
