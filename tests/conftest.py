"""Properties are judged by what they find, not by how busy the machine is; files run side by side."""

from __future__ import annotations

import pytest
from hypothesis import settings
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling

settings.register_profile("elumbra", deadline=None, print_blob=True)
settings.load_profile("elumbra")
# About half of the journeys by time; those that use simulated devices, whose ports are fixed, are together.
_ONE = ("rack_", "survey_", "law_", "gate_", "look_", "heat_", "bay_", "cut_")


class FilesAndJourneys(LoadScopeScheduling):
    """One worker runs a file from its first test to its last; two run all journeys, so that browsers do not crowd."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.split("::")[0]
        if "/e2e/" not in file:
            return file
        return "journeys one" if any(name in file for name in _ONE) else "journeys two"


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> FilesAndJourneys:
    """Deal the tests out by file."""
    return FilesAndJourneys(config, log)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Begin with the journeys: they take one worker the longest."""
    items.sort(key=lambda item: "e2e" not in item.path.parts)
