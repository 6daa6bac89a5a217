import { Button, Menu, MenuItem } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Job } from "../../../../api/client";
import { pickListsQuery } from "../../../../api/queries";
import { useAddOpening, useAddWindow } from "../../survey";

/** Further glass: one pane, or the panes of one opening under names of their own. The first is opened. */
export function AddGlass({ job, onSelect }: { job: Job; onSelect: (id: string) => void }) {
  const addWindow = useAddWindow(job.id);
  const addOpening = useAddOpening(job.id);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const lists = useQuery(pickListsQuery());
  const close = () => setAnchor(null);
  const one = () => {
    close();
    addWindow(
      { label: `Window ${job.windows.length + 1}`, position: "rear_side", kind: "fixed_side" },
      onSelect,
    );
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
              addOpening({ opening: key }, onSelect);
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
