"""One server for one data folder."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path


class FolderTakenError(Exception):
    """Another server works with the folder; the message says which."""


class FolderLock:
    """Held while a server runs; the system lets go of it when the process ends, however it ends."""

    def __init__(self, folder: Path) -> None:
        self._path = folder / "elumbra.lock"
        self._descriptor: int | None = None

    def take(self, who: str) -> None:
        """Take the folder for this process.

        Raises
        ------
        FolderTakenError
            Another process has it.
        OSError
            The folder cannot be written.
        """
        self._path.parent.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(self._path, os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            holder = os.read(descriptor, 200).decode(errors="replace").strip() or "another process"
            os.close(descriptor)
            raise FolderTakenError(
                f"{self._path.parent} is in use by {holder}. Stop that one, or name another folder with --data."
            ) from error
        os.ftruncate(descriptor, 0)
        os.write(descriptor, f"{who} (process {os.getpid()})".encode())
        self._descriptor = descriptor

    def release(self) -> None:
        """Let go of the folder."""
        if self._descriptor is not None:
            os.close(self._descriptor)
            self._descriptor = None
