import { Alert, Box, Button, Snackbar } from "@mui/material";
import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from "react";

const UNDO_MS = 10_000;

interface Notice {
  words: string;
  undo?: () => void;
  bad?: boolean;
  key: number;
}

type Notify = (words: string, options?: { undo?: () => void; bad?: boolean }) => void;
const NotifyContext = createContext<Notify | null>(null);

/** One line at the foot of the screen: what was done, and ten seconds to undo it. A refusal stays until it is closed; never over a dialog. */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const notify = useCallback<Notify>((words, options) => {
    setNotice({ words, ...options, key: Date.now() });
  }, []);
  const value = useMemo(() => notify, [notify]);
  const close = () => {
    setNotice(null);
  };
  return (
    <NotifyContext value={value}>
      {children}
      {/* Room at the end of the page, so that whatever the line stands over can be scrolled clear of it. */}
      {notice !== null && <Box aria-hidden="true" sx={{ height: 72, "@media print": { display: "none" } }} />}
      <Snackbar
        open={notice !== null}
        key={notice?.key}
        autoHideDuration={notice?.bad ? null : UNDO_MS}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        sx={{ zIndex: (theme) => theme.zIndex.modal - 1 }}
        onClose={(_, reason) => {
          if (reason !== "clickaway") close();
        }}
      >
        <Alert
          severity={notice?.bad ? "error" : "success"}
          variant="filled"
          icon={false}
          onClose={close}
          sx={{
            alignItems: "center",
            bgcolor: notice?.bad ? "error.main" : "text.primary",
            color: "background.default",
          }}
          action={
            notice?.undo && (
              <Button
                color="inherit"
                sx={{ borderColor: "currentColor" }}
                onClick={() => {
                  notice.undo?.();
                  close();
                }}
              >
                Undo
              </Button>
            )
          }
        >
          {notice?.words}
        </Alert>
      </Snackbar>
    </NotifyContext>
  );
}

export function useNotify(): Notify {
  const notify = useContext(NotifyContext);
  if (!notify) throw new Error("useNotify needs its provider");
  return notify;
}
