import { Box, Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { registerSW } from "virtual:pwa-register";
import { mayKeepPages } from "./offline";

/**
 * Keeps the pages on the device, and says when a newer version of them is there. It comes in only when somebody
 * says so, and never during a run: what is being ticked is not taken out of anybody's hands.
 */
export function NewVersion() {
  const { pathname } = useLocation();
  const [update, setUpdate] = useState<(() => void) | null>(null);
  useEffect(() => {
    if (!mayKeepPages()) return;
    const load = registerSW({
      immediate: true,
      onNeedRefresh: () => setUpdate(() => () => void load(true)),
    });
  }, []);
  const inRun = /^\/jobs\/[^/]+\/(bay|strip)/.test(pathname);
  if (!update || inRun) return null;
  return (
    <Box
      role="status"
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "center",
        px: 2,
        py: 0.75,
        bgcolor: "secondary.main",
        color: "secondary.contrastText",
      }}
    >
      A newer version of Elumbra is here.
      <Button variant="contained" onClick={update}>
        Load it now
      </Button>
    </Box>
  );
}
