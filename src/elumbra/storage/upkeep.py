"""What is done by itself while the server runs: a copy a night, and forgetting what nobody asks for again."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Protocol

from elumbra.storage import doors, keeping
from elumbra.storage.backup import FOLDER, forget_old_writes
from elumbra.storage.database import BusyError, Database, DiskFullError, UnusableDatabaseError
from elumbra.storage.kept_settings import kept
from elumbra.storage.photos import FOLDER as PHOTOS
from elumbra.storage.photos import sweep, sweep_copies
from elumbra.storage.practice import forget_unfinished

SECOND_FOLDER = "second_folder"
_EVERY_SECONDS = 3600.0
_SITTINGS_KEPT_DAYS = 30
_RUNS_KEPT_DAYS = 30  # of runs on the practice glass that nobody ended
_log = logging.getLogger(__name__)


class Also(Protocol):
    """What else is done by itself, until it is told to stop."""

    def __call__(self, database: Database, *, stop: Callable[[], bool]) -> int:
        """Do it; how much was done."""


@dataclass(frozen=True)
class Last:
    """How the last copy went."""

    at: str = ""
    words: str = "No copy was made since the server started."
    bad: bool = False


class Upkeep:
    """A thread that looks once an hour, and makes copies for whoever asks."""

    def __init__(self, database: Database, data: Path, also: Also | None = None) -> None:
        self._database, self.folder, self.photos = database, data / FOLDER, data / PHOTOS
        self._stop = threading.Event()
        self._one_at_a_time = threading.Lock()
        self._thread = threading.Thread(target=self._run, name="upkeep", daemon=True)
        self._also = also
        self.last = Last()

    def start(self) -> None:
        """Look now, then every hour."""
        self._thread.start()

    def stop(self) -> None:
        """End after what is being done."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    def copy_now(self) -> keeping.Copy:
        """A copy by hand, on the second folder too.

        Raises
        ------
        UnusableDatabaseError, DiskFullError
            It could not be made; told by ``last`` too.
        """
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
        return self._copied(
            lambda: keeping.make_copy(
                self._database.path, self.folder, name=f"by-hand-{stamp}.db", why=keeping.BY_HAND, photos=self.photos
            )
        )

    def _copied(self, make: keeping.Maker) -> keeping.Copy:
        with self._one_at_a_time:
            try:
                made = make()
                second = self._second()
                if second is not None:
                    keeping.to_second_folder(made, second)
            except (UnusableDatabaseError, DiskFullError) as error:
                words = "The disk is full: free some room." if isinstance(error, DiskFullError) else str(error)
                self.last = Last(_now(), words, bad=True)
                raise
            where = f" and in {second}" if second is not None else ""
            self.last = Last(_now(), f"{made.name}, {made.size / 1e6:.1f} MB, compared; in {self.folder}{where}.")
            return made

    def _second(self) -> Path | None:
        with self._database.session(write=False) as session:
            name = str(kept(session, SECOND_FOLDER, "")[0])
        return Path(name) if name else None

    def _run(self) -> None:
        while not self._stop.is_set():
            for do in (self._nightly, self._forget, self._older):
                try:
                    do()
                except (UnusableDatabaseError, DiskFullError, BusyError) as error:
                    _log.warning("upkeep: %s", error)  # told on the screen, tried again in an hour
                except Exception:
                    _log.exception("upkeep")
            self._stop.wait(_EVERY_SECONDS)

    def _older(self) -> None:
        if self._also is not None:
            self._also(self._database, stop=self._stop.is_set)

    def _nightly(self) -> None:
        if keeping.tonight(self.folder).exists():
            return
        self._copied(lambda: keeping.nightly(self._database.path, self.folder, photos=self.photos))

    def _forget(self) -> None:
        sweep(self._database)
        sweep_copies(self._database, self.folder / PHOTOS)
        forget_old_writes(self._database)
        with suppress(BusyError), self._database.session(write=True) as session:
            doors.forget_sittings(session, days=_SITTINGS_KEPT_DAYS)
            forget_unfinished(session, days=_RUNS_KEPT_DAYS)


def _now() -> str:
    return datetime.now(UTC).replace(microsecond=0).isoformat()
