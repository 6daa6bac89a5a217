import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  Answer,
  Empty,
  ErrorNote,
  Head,
  Pending,
  Row,
  Ruled,
  TextLine,
  useDraft,
  useNotify,
} from "../../shared";
import { keepingQuery, useCopyNow, useRehearse, useRestore, useSetSecond, type Keeping } from "./api";

const mega = (bytes: number) =>
  bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`;
const when = (iso: string | null) =>
  iso ? new Date(iso).toLocaleString([], { dateStyle: "medium", timeStyle: "short" }) : "";

/** Copies of the shop: made, compared, rehearsed, put back; how large it is and grows. */
export function KeepingPage() {
  const page = useQuery(keepingQuery());
  const copy = useCopyNow();
  const notify = useNotify();
  const [chosen, setChosen] = useState<string | null>(null);
  if (page.isPending) return <Pending what="the copies" />;
  if (page.isError) return <ErrorNote error={page.error} again={() => void page.refetch()} />;
  const { data } = page;
  const newest = data.copies[0];
  return (
    <>
      <Head
        buttons={
          <>
            <Button component="a" href="/api/keeping/shop.zip" download>
              Whole shop as files
            </Button>
            <Button
              variant="contained"
              color="secondary"
              size="large"
              disabled={copy.pending}
              onClick={() => copy.write(null, { onSuccess: () => notify("Copied, read back and compared.") })}
            >
              {copy.pending ? "Copying and comparing …" : "Copy now"}
            </Button>
          </>
        }
      >
        <Answer tone={data.last_bad ? "bad" : "open"} why={data.last_words}>
          {newest ? `Newest copy: ${when(newest.made_at)}` : "No copy yet"}
        </Answer>
      </Head>
      {copy.error && <ErrorNote error={copy.error} />}
      <Box
        sx={{ display: "grid", gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "3fr 2fr" }, columnGap: 4 }}
      >
        <Ruled title="Copies">
          {data.copies.length === 0 && (
            <Empty words="The first copy is made tonight; “Copy now” makes one at once." />
          )}
          <Box sx={{ overflowX: "auto", maxHeight: 430, overflowY: "auto" }}>
            <Table size="small" aria-label="Copies of the shop">
              <TableHead>
                <TableRow>
                  <TableCell>Made</TableCell>
                  <TableCell>Why</TableCell>
                  <TableCell align="right">Rows</TableCell>
                  <TableCell align="right">Size</TableCell>
                  <TableCell />
                </TableRow>
              </TableHead>
              <TableBody>
                {data.copies.map((one) => (
                  <TableRow key={one.name} selected={one.name === chosen}>
                    <TableCell>{when(one.made_at)}</TableCell>
                    <TableCell>{one.why}</TableCell>
                    <TableCell align="right">{one.rows ?? "not known"}</TableCell>
                    <TableCell align="right">{mega(one.size)}</TableCell>
                    <TableCell align="right">
                      <Button
                        size="small"
                        aria-label={`Look into ${one.name}`}
                        onClick={() => setChosen(one.name)}
                      >
                        Look into
                      </Button>
                    </TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Box>
        </Ruled>
        <Box>
          {chosen && <Rehearse key={chosen} name={chosen} />}
          <Second page={data} />
          <Ruled title="How large">
            <Typography>
              Database {mega(data.database_bytes)}, pictures {mega(data.photo_bytes)}; free on the disk{" "}
              {mega(data.free_bytes)}.
            </Typography>
            <Growth page={data} />
          </Ruled>
          <Ruled title="Rules">
            {data.rules.map((words) => (
              <Typography key={words} sx={{ mb: 0.75 }}>
                {words}
              </Typography>
            ))}
          </Ruled>
        </Box>
      </Box>
    </>
  );
}

/** What putting a copy back would give, and putting it back. */
function Rehearse({ name }: { name: string }) {
  const rehearse = useRehearse();
  const restore = useRestore();
  const [again, setAgain] = useState("");
  return (
    <Ruled title={name}>
      {!rehearse.data && (
        <Button variant="contained" disabled={rehearse.pending} onClick={() => rehearse.write({ name })}>
          {rehearse.pending ? "Putting it back in a scratch place …" : "Rehearse putting it back"}
        </Button>
      )}
      {rehearse.error && <ErrorNote error={rehearse.error} again={() => rehearse.write({ name })} />}
      {rehearse.data && (
        <>
          <Typography sx={{ fontWeight: 700 }}>
            {rehearse.data.words}
            {rehearse.data.upgraded ? "; it is brought to this release" : ""}.
          </Typography>
          <Typography>
            {rehearse.data.differs.length === 0
              ? "It holds the very same as the shop now."
              : `Against the shop now: ${rehearse.data.differs.map((one) => `${one.what} ${one.words}`).join("; ")}.`}
          </Typography>
          <Row>
            <TextLine label={`Type ${name} to put it back`} value={again} onChange={setAgain} />
            <Button
              color="error"
              variant="contained"
              disabled={again !== name || restore.pending}
              onClick={() => restore.write({ name, again })}
            >
              Put it back
            </Button>
          </Row>
          {restore.error && <ErrorNote error={restore.error} />}
          {restore.data && <Typography role="status">{restore.data.words}</Typography>}
        </>
      )}
    </Ruled>
  );
}

function Second({ page }: { page: Keeping }) {
  const set = useSetSecond();
  const draft = useDraft({ folder: page.second_folder });
  const { folder } = draft.fields;
  return (
    <Ruled title="A second place">
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        A folder on another drive of the machine. Copies lie in {page.folder} and there too.
      </Typography>
      <Row>
        <TextLine
          label="Second folder"
          value={folder}
          onChange={(typed) => draft.set({ folder: typed })}
          hint="/media/usb/elumbra; empty: none"
        />
        <Button
          disabled={folder === page.second_folder || set.pending}
          onClick={() =>
            set.write(
              { second_folder: folder, version: page.version },
              { onSuccess: () => draft.kept({ folder }) },
            )
          }
        >
          Keep
        </Button>
      </Row>
      {set.error && <ErrorNote error={set.error} />}
    </Ruled>
  );
}

/** Size of the copies over the days, to one scale. */
function Growth({ page }: { page: Keeping }) {
  const most = Math.max(1, ...page.growth.map((one) => one.size));
  if (page.growth.length < 2)
    return <Typography color="text.secondary">How it grows shows from the second day’s copy on.</Typography>;
  return (
    <Box
      sx={{ display: "flex", alignItems: "end", gap: 0.5, height: 70, mt: 1 }}
      role="img"
      aria-label="Growth"
    >
      {page.growth.map((one) => (
        <Box
          key={one.day}
          title={`${one.day}: ${mega(one.size)}`}
          sx={{ flex: 1, bgcolor: "primary.main", height: `${(100 * one.size) / most}%` }}
        />
      ))}
    </Box>
  );
}
