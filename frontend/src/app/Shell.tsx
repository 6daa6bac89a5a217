import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useIsMutating, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Link, NavLink, Outlet, useNavigate } from "react-router";
import { api, onServerAway, serverAway } from "../api/client";
import { sessionQuery } from "../api/queries";
import { Frame, Password, StartPage, useSignIn } from "../features/session";
import { ErrorNote, Pending, useHotkeys, useSettings, useSmallScreen, type Setting } from "../shared";
import { KeysDialog } from "./KeysDialog";
import { NewVersion } from "./NewVersion";
import { useTravelling, type Session } from "./travelling";

const FindDialog = lazy(async () => ({ default: (await import("./FindDialog")).FindDialog }));

const PLACES = [
  ["/", "Bays"],
  ["/day", "Day"],
  ["/jobs", "Jobs"],
  ["/calls", "Calls"],
  ["/quick", "Quick cut"],
  ["/shelf", "Glass shelf"],
  ["/rack", "Rack"],
  ["/films", "Films"],
  ["/rules", "Rule book"],
  ["/look-up", "Look up"],
  ["/practice", "Practice"],
  ["/ledger", "Ledger"],
  ["/shop", "Shop"],
] as const;

/** Places of a shop with bays, staff and lots. */
const NOT_AT_HOME = new Set<string>(["/day", "/calls", "/ledger"]);
/** Places of money, which refuse who does not see prices. */
const MONEY = new Set<string>(["/ledger"]);

function placesOf({ home, person }: Session) {
  const prices = person?.prices ?? false;
  return PLACES.filter(([to]) => !(home && NOT_AT_HOME.has(to)) && (prices || !MONEY.has(to)));
}

const LOOK_AGAIN_MS = 1500;

/** Frame of every screen: places, who is acting, how it looks, whether the server is there. */
export function Shell() {
  const session = useQuery(sessionQuery());
  const [open, setOpen] = useState<"keys" | "find" | null>(null);
  const small = useSmallScreen();
  const navigate = useNavigate();
  const keys = useMemo(
    () => ({
      "?": () => {
        setOpen("keys");
      },
      "/": () => {
        setOpen("find");
      },
      b: () => void navigate("/"),
      d: () => void navigate("/day"),
      j: () => void navigate("/jobs"),
      n: () => void navigate("/jobs/new"),
      q: () => void navigate("/quick"),
      r: () => void navigate("/rack"),
      g: () => void navigate("/shelf"),
      l: () => void navigate("/look-up"),
      w: () => void navigate("/rules"),
      c: () => void navigate("/calls"),
      p: () => void navigate("/practice"),
    }),
    [navigate],
  );
  useHotkeys(keys);
  const person = session.data?.person ?? null;
  useTravelling(person);
  useEffect(() => {
    if (person) void import("../features/job").then(({ sitDown }) => sitDown(person));
  }, [person]);
  if (session.isPending || session.isError || !session.data.person)
    return (
      <>
        <AwayBar />
        {session.isPending && <Pending what="the shop" />}
        {session.isError && <ErrorNote error={session.error} again={() => void session.refetch()} />}
        {session.data && <StartPage session={session.data} />}
      </>
    );
  if (session.data.must_change)
    return (
      <Frame>
        <Password has first />
      </Frame>
    );
  return (
    <Box sx={{ minHeight: "100vh", display: "flex", flexDirection: "column" }}>
      <AwayBar />
      <NewVersion />
      <Box
        component="header"
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 1,
          px: 2,
          borderBottom: 1,
          borderColor: "divider",
          flexWrap: small ? "nowrap" : "wrap",
          "@media print": { display: "none" },
        }}
      >
        <Box
          component={Link}
          to="/"
          aria-label="Elumbra, bays"
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1,
            color: "text.primary",
            textDecoration: "none",
            mr: small ? 0.5 : 1,
            py: small ? 0.25 : 1,
          }}
        >
          <img src="/mark.svg" width={26} height={26} alt="" />
          <Typography
            component="span"
            sx={{
              fontWeight: 700,
              fontSize: "1.2rem",
              letterSpacing: "-0.02em",
              display: { xs: "none", xl: small ? "none" : "inline" },
            }}
          >
            Elumbra
          </Typography>
        </Box>
        <Box
          component="nav"
          aria-label="Places"
          sx={{
            display: "flex",
            flexWrap: small ? "nowrap" : "wrap",
            overflowX: small ? "auto" : "visible",
            minWidth: 0,
            flexGrow: 1,
          }}
        >
          {placesOf(session.data).map(([to, words]) => (
            <Box
              key={to}
              component={NavLink}
              to={to}
              end={to === "/"}
              sx={{
                px: { xs: 1.25, md: 0.8 },
                py: { xs: 0.75, sm: 1.25 },
                whiteSpace: "nowrap",
                color: "text.primary",
                textDecoration: "none",
                fontWeight: 600,
                borderBottom: "3px solid transparent",
                "&.active": { borderColor: "secondary.main" },
              }}
            >
              {words}
            </Box>
          ))}
        </Box>
        {!small && <Appearance />}
        {!small && <Acting session={session.data} />}
      </Box>
      <Box
        component="main"
        sx={{ flexGrow: 1, px: { xs: 1.5, md: 3 }, py: 2, maxWidth: 1760, width: "100%", mx: "auto" }}
      >
        <Outlet />
      </Box>
      <Box
        component="footer"
        sx={{
          display: small ? "flex" : "none",
          flexWrap: "wrap",
          gap: 1,
          p: 1.5,
          borderTop: 1,
          borderColor: "divider",
          "@media print": { display: "none" },
        }}
      >
        <Appearance />
        <Acting session={session.data} />
      </Box>
      <KeysDialog
        open={open === "keys"}
        onClose={() => {
          setOpen(null);
        }}
      />
      {open === "find" && (
        <Suspense>
          <FindDialog
            onClose={() => {
              setOpen(null);
            }}
          />
        </Suspense>
      )}
    </Box>
  );
}

/** Who acts here: one touch locks the screen, so that somebody else takes over; the other leads to his own page. */
function Acting({ session }: { session: Session }) {
  const leave = useSignIn();
  const person = session.person;
  if (!person) return null;
  return (
    <Box sx={{ display: "flex", alignItems: "center" }}>
      <Button
        variant="text"
        component={Link}
        to="/me"
        aria-label={`${person.name}, ${session.home ? "at home" : person.role}: your own page`}
        sx={{ px: 1, whiteSpace: "nowrap" }}
      >
        {person.name.split(" ")[0]}
      </Button>
      {!session.home && (
        <Button onClick={() => leave.write({})} title="Somebody else takes over" sx={{ px: 1.25 }}>
          Lock
        </Button>
      )}
    </Box>
  );
}

function Appearance() {
  const { setting, setSetting, unit, setUnit } = useSettings();
  const settings: [Setting, string][] = [
    ["bench", "Bench"],
    ["bay-light", "Bay light"],
    ["bay-dark", "Bay dark"],
  ];
  return (
    <Box sx={{ display: "flex", gap: 1, "& .MuiToggleButton-root": { px: 1, fontSize: "0.9rem" } }}>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={unit}
        onChange={(_, value: "in" | "mm" | null) => {
          if (value) setUnit(value);
        }}
        aria-label="Unit shown"
      >
        <ToggleButton value="in">in</ToggleButton>
        <ToggleButton value="mm">mm</ToggleButton>
      </ToggleButtonGroup>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={setting}
        onChange={(_, value: Setting | null) => {
          if (value) setSetting(value);
        }}
        aria-label="Screen setting"
      >
        {settings.map(([value, words]) => (
          <ToggleButton key={value} value={value}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}

/** Whether the server is away, and what waits to be sent; such writes live as long as this page does. */
function AwayBar() {
  const away = useSyncExternalStore(onServerAway, serverAway);
  const waiting = useIsMutating();
  const client = useQueryClient();
  useEffect(() => {
    if (!away) return;
    // Asked until it answers; then all that is shown is looked at anew.
    const timer = window.setInterval(() => {
      void api.GET("/api/health").then(
        () => client.invalidateQueries(),
        () => undefined,
      );
    }, LOOK_AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [away, client]);
  useEffect(() => {
    if (!away || waiting === 0) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [away, waiting]);
  if (!away) return null;
  return (
    <Box
      role="alert"
      sx={{ bgcolor: "error.main", color: "background.paper", px: 2, py: 1, fontWeight: 700 }}
    >
      The server does not answer.{" "}
      {waiting > 0
        ? `${waiting} ${waiting === 1 ? "change is" : "changes are"} not saved yet: sent by itself when the server is back. Keep this page open; a reload loses it.`
        : "This page looks again by itself."}
    </Box>
  );
}
