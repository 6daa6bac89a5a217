"""How much is tried: a sample in every run, all of it under ``./elumbra test --long``.

Nothing is left out here that is not tried there, and no kind of test is left out anywhere.
"""

from __future__ import annotations

import os
import random
from collections.abc import Iterable, Sequence
from typing import Any, TypeVar

from hypothesis import settings

Thing = TypeVar("Thing")
LONG = os.environ.get("ELUMBRA_TESTS") == "long"
FEW = 25  # examples of a property in a short run


def examples(full: int, *, here: int = FEW, **over: Any) -> settings:
    """Settings of a property: so many examples in a long run, at most 25 in a short one, fewer where each takes long."""
    return settings(max_examples=full if LONG else min(full, here), **over)


def effort(short: Thing, full: Thing) -> Thing:
    """A size by the kind of run: repeats, seconds, seeds."""
    return full if LONG else short


def sample(things: Iterable[Thing], here: int, *, seed: int = 0) -> Sequence[Thing]:
    """All things in a long run; in a short one so many of them, drawn by a seed, in their order."""
    whole = list(things)
    if LONG or len(whole) <= here:
        return whole
    return [whole[i] for i in sorted(random.Random(seed).sample(range(len(whole)), here))]
