"""Properties are judged by what they find, not by how busy the machine is; files may run side by side."""

from __future__ import annotations

import pytest
from hypothesis import settings

settings.register_profile("elumbra", deadline=None, print_blob=True)
settings.load_profile("elumbra")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """One worker runs a file from its first test to its last; one worker runs all journeys, which share devices."""
    for item in items:
        name = "journeys" if "e2e" in item.path.parts else str(item.path)
        item.add_marker(pytest.mark.xdist_group(name))
