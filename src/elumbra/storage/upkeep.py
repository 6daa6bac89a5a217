"""What is done by itself while the server runs: one copy a day, and forgetting what nobody asks for again."""

from __future__ import annotations

import logging
import threading
from pathlib import Path

from elumbra.storage.backup import FOLDER, daily_copy, forget_old_writes
from elumbra.storage.database import Database
from elumbra.storage.photos import FOLDER as PHOTOS
from elumbra.storage.photos import copy_photos, sweep, sweep_copies

_EVERY_SECONDS = 3600.0
_log = logging.getLogger(__name__)


class Upkeep:
    """A thread that looks once an hour."""

    def __init__(self, database: Database, data: Path) -> None:
        self._database, self._folder, self._photos = database, data / FOLDER, data / PHOTOS
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="upkeep", daemon=True)

    def start(self) -> None:
        """Look now, then every hour."""
        self._thread.start()

    def stop(self) -> None:
        """End after what is being done."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    def _run(self) -> None:
        while not self._stop.is_set():
            try:
                daily_copy(self._database, self._folder)
                copy_photos(self._photos, self._folder / PHOTOS)
                sweep(self._database)
                sweep_copies(self._database, self._folder / PHOTOS)
                forget_old_writes(self._database)
            except Exception:
                _log.exception("upkeep")  # told in the server's log, tried again in an hour
            self._stop.wait(_EVERY_SECONDS)
