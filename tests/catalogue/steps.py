"""The shipped step file and removal table for tests of the core, and situations made of them."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random

import elumbra
from elumbra.core.bay import FIGURES, Hands, Run, StepBook, blank_situation, make_run, parse_step_book
from elumbra.core.removal import parse_removal_table

DATA = Path(elumbra.__file__).parent / "data"
DOCUMENT = json.loads((DATA / "steps.json").read_text(encoding="utf-8"))
BOOK: StepBook = parse_step_book(DOCUMENT)
REMOVAL = parse_removal_table(json.loads((DATA / "removal.json").read_text(encoding="utf-8")))
LONGEST = {name: one.longest for name, one in FIGURES.items()}
UNFIT = ("cracked", "scratched", "etched", "frosted", "drilled", "leaded")


def situation(**told: str) -> dict[str, str]:
    """A window of which nothing is said but this; tempered, in our own schools."""
    unknown = {name: value for name, value in told.items() if value not in BOOK.known[name]}
    assert not unknown, f"never so: {unknown}"
    return {**blank_situation(BOOK, Hands()), "glass": "tempered", **told}


def run_of(book: StepBook = BOOK, **told: str) -> Run:
    return make_run(book, situation(**told), LONGEST)


def keys(run: Run) -> list[str]:
    return [one.key for one in run.steps]


def random_situation(chance: Random) -> dict[str, str]:
    """Any combination of facts; faults that end every run are drawn less often, or little else would be seen."""
    told = {name: chance.choice(values) for name, values in BOOK.known.items()}
    told["part"] = "window"
    if chance.random() < 0.9:
        told["glass"] = chance.choice(["tempered", "laminated", "coated", "unknown"])
    for name in UNFIT:
        told[f"condition_{name}"] = "yes" if chance.random() < 0.02 else "no"
    return told
