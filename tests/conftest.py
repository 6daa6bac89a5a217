"""Properties are judged by what they find, not by how busy the machine is; files run side by side, journeys do not."""

from __future__ import annotations

import pytest
from hypothesis import settings
from xdist.remote import Producer
from xdist.scheduler import LoadScopeScheduling

settings.register_profile("elumbra", deadline=None, print_blob=True)
settings.load_profile("elumbra")


class FilesAndJourneys(LoadScopeScheduling):
    """One worker runs a file from its first test to its last; one worker runs all journeys, which share devices."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.split("::")[0]
        return "journeys" if "/e2e/" in file else file


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> FilesAndJourneys:
    """Deal the tests out by file."""
    return FilesAndJourneys(config, log)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Begin with the journeys: they take one worker the longest."""
    items.sort(key=lambda item: "e2e" not in item.path.parts)
