import { Box, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { sessionQuery } from "../../../api/queries";
import { ErrorNote, PickOne, Ruled, Switch, Tick, useNotify } from "../../../shared";
import { baySchoolsQuery, useSetOwnSchools, useSetShopSchools } from "../api";

const WHOSE = { own: "My own", shop: "The shop’s" } as const;

/** Where installers disagree: the shop's answer, and one's own laid over it. The runs in the bay go by them. */
export function BaySchools() {
  const found = useQuery(baySchoolsQuery());
  const session = useQuery(sessionQuery());
  const shop = useSetShopSchools();
  const own = useSetOwnSchools();
  const notify = useNotify();
  const [whose, setWhose] = useState<keyof typeof WHOSE>("own");
  if (!found.data) return found.isError ? <ErrorNote error={found.error} /> : null;
  const { schools, home, learner, shop_version, own_version } = found.data;
  const lead = ["lead", "owner"].includes(session.data?.person?.role ?? "");
  const done = { onSuccess: () => notify("The runs in the bay go by this.") };
  const answers = (name?: string, answer?: string | null) => ({
    ...Object.fromEntries(schools.map((one) => [one.name, whose === "shop" ? one.shop : one.own])),
    ...(name ? { [name]: answer ?? null } : {}),
  });
  const put = (name: string, answer: string | null) =>
    whose === "shop"
      ? shop.write({ schools: answers(name, answer), home, version: shop_version }, done)
      : own.write({ schools: answers(name, answer), learner, version: own_version }, done);
  const locked = whose === "shop" && !lead;
  return (
    <Ruled
      title="Schools of the bay"
      action={<Switch label="Whose answers" value={whose} options={WHOSE} onChange={setWhose} />}
    >
      <Typography>
        Steps, tools and figures in the bay follow. Empty: {whose === "own" ? "as the shop" : "as we would"}.
      </Typography>
      <Box
        component="fieldset"
        disabled={locked}
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", sm: "repeat(2, 1fr)", md: "repeat(4, 1fr)" },
          gap: 1.5,
          border: 0,
          p: 0,
          m: 0,
          mt: 1.5,
        }}
      >
        {schools.map((one) => (
          <PickOne
            key={one.name}
            label={one.question}
            value={whose === "shop" ? one.shop : one.own}
            none={
              whose === "own" && one.shop
                ? `as the shop: ${one.options[one.shop] ?? one.shop}`
                : `ours: ${one.options[one.ours] ?? one.ours}`
            }
            options={Object.entries(one.options)}
            onChange={(answer) => put(one.name, answer)}
          />
        ))}
      </Box>
      {whose === "own" ? (
        <Tick
          label="I am learning: show every step by itself"
          value={learner}
          onChange={(value) => own.write({ schools: answers(), learner: value, version: own_version }, done)}
        />
      ) : (
        <Tick
          label="This is at home: home route, without heat"
          value={home}
          onChange={(value) => {
            if (lead) shop.write({ schools: answers(), home: value, version: shop_version }, done);
          }}
        />
      )}
      {locked && <Typography color="text.secondary">The lead sets the shop’s answers.</Typography>}
      {(shop.error ?? own.error) && <ErrorNote error={shop.error ?? own.error} />}
    </Ruled>
  );
}
