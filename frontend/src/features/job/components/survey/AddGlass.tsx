import { Button, Menu, MenuItem } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { pickListsQuery } from "../../../../api/queries";
import { useAddWindow } from "../../api";
import { useAddOpening } from "../../survey";

/** Further glass: one pane, or the panes of one opening under names of their own. The first is opened. */
export function AddGlass({ job, onSelect }: { job: Job; onSelect: (id: string) => void }) {
  const { add } = useAddWindow(job.id);
  const opening = useAddOpening(job.id);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const lists = useQuery(pickListsQuery());
  const close = () => setAnchor(null);
  const one = () => {
    close();
    add({ label: `Window ${job.windows.length + 1}`, position: "rear_side", kind: "fixed_side" }, onSelect);
  };
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)} aria-haspopup="menu">
        Add glass
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        {lists.data?.openings.map(({ key, label }) => (
          <MenuItem
            key={key}
            onClick={() => {
              close();
              opening.add(key, job.windows.length, onSelect);
            }}
          >
            {label}
          </MenuItem>
        ))}
        <MenuItem onClick={one}>One more window</MenuItem>
      </Menu>
    </>
  );
}
