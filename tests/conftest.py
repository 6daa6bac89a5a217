"""Properties are judged by what they find, not by how busy the machine is; tests are dealt singly to workers."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import pytest
from hypothesis import settings
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling

from tests.effort import FEW

settings.register_profile("short", deadline=None, print_blob=True, max_examples=FEW)
settings.register_profile("long", deadline=None, print_blob=True)
# A mutant is alive or not, whichever run looks at it.
settings.register_profile("mutation", deadline=None, max_examples=FEW, derandomize=True, database=None)
settings.load_profile(os.environ.get("ELUMBRA_TESTS") or "short")
# Dealt as one: what stands on each other in order, shares a device's fixed port, or one expensive thing of its module.
_TOGETHER = (
    "test_look_journeys",
    "test_one_road",
    "test_meter",
    "test_keeping",
    "test_cutter",
    "test_start",
    "test_plan.py",
)
_DEVICES = ("test_rack_journeys", "test_survey_journeys")
# The longest first, so that none is left over at the end; all else as it is collected.
_FIRST = (
    "test_kill",
    "test_day_journeys",
    "test_door_journeys",
    "test_practice_journeys",
    "test_by_hand",
    "test_month",
)


class DealtSingly(LoadScopeScheduling):
    """Each test goes to whichever worker is free, but for those that belong together."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.split("::")[0]
        if any(name in file for name in _DEVICES):
            return "with devices"
        return file if any(name in file for name in _TOGETHER) else nodeid


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> DealtSingly:
    """Deal the tests out."""
    return DealtSingly(config, log)


@pytest.fixture(scope="session")
def once(tmp_path_factory: pytest.TempPathFactory) -> Once:
    """Things that take long to make, made by the first worker that needs them."""
    base = tmp_path_factory.getbasetemp()
    return Once(base.parent / "once" if "PYTEST_XDIST_WORKER" in os.environ else base / "once")


@dataclass(frozen=True)
class Once:
    """Folders by name, each filled once for all workers."""

    root: Path

    def made(self, name: str, make: Callable[[Path], None]) -> Path:
        """The folder of that name, filled by ``make``; who comes meanwhile waits."""
        self.root.mkdir(exist_ok=True)
        folder = self.root / name
        with (self.root / f"{name}.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not folder.exists():
                making = self.root / f"{name}.making"
                making.mkdir()
                make(making)
                making.rename(folder)
        return folder


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Begin with what takes longest: the journeys, and a few by name."""

    def rank(item: pytest.Item) -> int:
        if any(name in item.path.name for name in _FIRST):
            return 0
        return 1 if "e2e" in item.path.parts else 2

    items.sort(key=rank)
