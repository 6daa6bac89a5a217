import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { useFindCode } from "./useFindCode";

/** The decoder is fetched only by those who scan. */
const ScanDialog = lazy(async () => ({ default: (await import("./ScanDialog")).ScanDialog }));

/** A button that finds stock by its label's code, by camera, picture or keyboard. */
export function FindByCode({ onFound, words = "Scan a label" }: { onFound?: () => void; words?: string }) {
  const [open, setOpen] = useState(false);
  const find = useFindCode(() => {
    setOpen(false);
    onFound?.();
  });
  return (
    <>
      <Button onClick={() => setOpen(true)}>{words}</Button>
      {open && (
        <Suspense fallback={null}>
          <ScanDialog
            onCode={(code) => find.mutate(code)}
            error={find.error}
            onClose={() => {
              find.reset();
              setOpen(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
