import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { ErrorNote, Row, Ruled, TextLine, Tick, useDraft, useNotify } from "../../../shared";
import { useEnrolment, useRemoveDevice, useSetDoors, type People } from "../api";

type Device = People["devices"][number];

/** What is opened to whom: addresses, the authority's fingerprint, devices, how long a screen stays open. */
export function Doors({ people, owner }: { people: People; owner: boolean }) {
  const { doors, devices } = people;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "1fr 1fr" }, columnGap: 4 }}>
      <Ruled title="Devices">
        {devices.length === 0 && (
          <Typography sx={{ mb: 1 }}>
            No device is enrolled. On an enrolled tablet a PIN is enough to sign in.
          </Typography>
        )}
        {devices.map((one) => (
          <DeviceRow key={one.id} device={one} owner={owner} />
        ))}
        {owner && <NewDevice lan={doors.lan} />}
        {doors.lan && (
          <Box sx={{ mt: 2 }}>
            <Typography>
              Each device first installs the shop’s authority from <b>{doors.plain}</b>. Its SHA-256
              fingerprint:
            </Typography>
            <Typography sx={{ fontFamily: '"B612 Mono", monospace', overflowWrap: "anywhere" }}>
              {doors.fingerprint.replaceAll(":", " ")}
            </Typography>
          </Box>
        )}
      </Ruled>
      <Ruled title="Doors">
        <Fields people={people} owner={owner} />
        {owner && (
          <Button component={Link} to="/keeping" sx={{ mt: 2 }}>
            Copies of the shop
          </Button>
        )}
      </Ruled>
    </Box>
  );
}

function DeviceRow({ device, owner }: { device: Device; owner: boolean }) {
  const remove = useRemoveDevice(device.id);
  return (
    <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", py: 0.75, gap: 1 }}>
      <Typography>
        <b>{device.name}</b>
        {device.this_one ? ", this one" : ""}, by {device.enrolled_by}
      </Typography>
      {owner && <Button onClick={() => remove.write({ version: device.version })}>Take off</Button>}
    </Box>
  );
}

function NewDevice({ lan }: { lan: boolean }) {
  const make = useEnrolment();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        disabled={!lan || make.pending}
        onClick={() => make.write(null, { onSuccess: () => setOpen(true) })}
        sx={{ mt: 1 }}
      >
        Enrol a device
      </Button>
      {!lan && (
        <Typography color="text.secondary">
          Start the server with its option lan; only then another device reaches it.
        </Typography>
      )}
      {make.error && <ErrorNote error={make.error} />}
      {open && make.data && (
        <Dialog open onClose={() => setOpen(false)} aria-labelledby="enrol-title">
          <DialogTitle id="enrol-title">Enrol a device</DialogTitle>
          <DialogContent>
            <Typography sx={{ mb: 1 }}>
              Point the device’s camera at this, or open the address on it. The code counts once, until{" "}
              {new Date(make.data.until).toLocaleTimeString([], { hour: "numeric", minute: "2-digit" })}.
            </Typography>
            <Box
              component="img"
              alt={`Code ${make.data.code}`}
              src={`data:image/svg+xml;utf8,${encodeURIComponent(make.data.qr_svg)}`}
              sx={{ width: 280, maxWidth: "100%", bgcolor: "#fff", display: "block" }}
            />
            <Typography sx={{ fontSize: "1.6rem", fontFamily: '"B612 Mono", monospace', my: 1 }}>
              {make.data.code}
            </Typography>
            <Typography sx={{ overflowWrap: "anywhere" }}>{make.data.address}</Typography>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setOpen(false)}>Close</Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

function Fields({ people, owner }: { people: People; owner: boolean }) {
  const { doors } = people;
  const set = useSetDoors();
  const notify = useNotify();
  const draft = useDraft({
    bench: String(doors.idle_minutes_bench),
    device: String(doors.idle_minutes_device),
    home: doors.home,
  });
  const { bench, device, home } = draft.fields;
  const ready = Number(bench) >= 1 && Number(device) >= 1;
  return (
    <>
      <Row>
        <TextLine
          label="Locked after, bench [min]"
          value={bench}
          onChange={(typed) => draft.set({ bench: typed })}
          disabled={!owner}
        />
        <TextLine
          label="Locked after, device [min]"
          value={device}
          onChange={(typed) => draft.set({ device: typed })}
          disabled={!owner}
        />
      </Row>
      <Tick
        label="A home: one person, no account on this machine"
        value={home}
        onChange={(ticked) => draft.set({ home: ticked })}
        disabled={!owner}
      />
      {owner && (
        <Button
          variant="contained"
          disabled={!ready || set.pending}
          onClick={() =>
            set.write(
              {
                idle_minutes_bench: Math.round(Number(bench)),
                idle_minutes_device: Math.round(Number(device)),
                home,
                version: doors.version,
              },
              {
                onSuccess: () => {
                  draft.kept(draft.fields);
                  notify("The doors are set.");
                },
              },
            )
          }
        >
          Keep
        </Button>
      )}
      {set.error && <ErrorNote error={set.error} />}
    </>
  );
}
