"""What a window still lacks before its car may go."""

from __future__ import annotations

import pytest

from elumbra.core.deeds import Lack, WindowWork, lacks

MADE = {"film": True, "booked": True, "begun": True, "made": True, "made_at": 600.0, "looked_at": 660.0}
FILM, WORK, REMOVAL, SCRAP, LOOK = Lack

# What is known of a window, and what it lacks by that.
KNOWN = [
    ("nothing was ordered", {}, []),
    ("all is done", MADE, []),
    ("chosen only", {"film": True}, [FILM]),
    ("begun, never booked", {"film": True, "begun": True}, [FILM, WORK]),
    ("cut, not begun", {"film": True, "booked": True}, [WORK]),
    ("fitted, never booked", MADE | {"booked": False}, [FILM]),
    ("half done", MADE | {"made": False, "looked_at": None, "next_step": "Press the H"}, [WORK]),
    ("looked at before it was done", MADE | {"made": False}, [WORK]),
    ("done, nobody looked", MADE | {"looked_at": None}, [LOOK]),
    ("worked on after the look", MADE | {"looked_at": 599.0}, [LOOK]),
    ("looked at in the second of its last tick", MADE | {"made_at": 600.9, "looked_at": 600.0}, []),
    ("a piece nobody booked", MADE | {"scrap": ["e1"]}, [SCRAP]),
    ("scrap of a window that gets no film any more", {"scrap": ["e1", "e2"]}, [SCRAP]),
    ("old film still on", {"removal": True}, [REMOVAL]),
    ("old film off", {"removal": True, "removed": True}, []),
    ("old film on, new film not begun", {"removal": True, "film": True, "booked": True}, [REMOVAL, WORK]),
    ("all of it", {"removal": True, "film": True, "scrap": ["e1"]}, [REMOVAL, SCRAP, FILM]),
]


@pytest.mark.parametrize(("known", "missing"), [row[1:] for row in KNOWN], ids=[row[0] for row in KNOWN])
def test_a_window_lacks_just_what_is_not_done(known: dict[str, object], missing: list[Lack]) -> None:
    found = lacks(WindowWork(label="Driver rear", **known))  # type: ignore[arg-type]
    assert [lack for lack, _ in found] == missing
    assert all(words.startswith("Driver rear: ") for _, words in found)


def test_what_is_told_says_what_is_next() -> None:
    half = WindowWork(label="Rear", film=True, booked=True, begun=True, next_step="Press the H")
    assert [words for _, words in lacks(half)] == ["Rear: work not finished, next: Press the H"]
    plastic = WindowWork(label="Rear", film=True, booked=True, refusal="Plastic takes no film")
    assert [words for _, words in lacks(plastic)] == ["Rear: no film can go on: Plastic takes no film"]


def test_a_lead_lets_go_what_is_not_made_but_nothing_that_is_on_the_car() -> None:
    assert [lack for lack in Lack if lack.may_be_let_go] == [FILM, WORK, REMOVAL]
