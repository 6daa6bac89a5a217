"""What day it is in the shop: the one place that asks."""

from __future__ import annotations

from datetime import datetime


def today_iso() -> str:
    """Today by the machine's own clock and zone, as an ISO day."""
    return datetime.now().astimezone().date().isoformat()
