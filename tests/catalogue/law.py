"""Builds cars for the law from a few words, and reads the hand-written verdict table."""

from __future__ import annotations

import json
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from elumbra.core.film import Colour, Construction, VltBasis
from elumbra.core.glass import Position
from elumbra.core.law import (
    CarFacts,
    FieldWord,
    LawBook,
    PaneFacts,
    RegisteredAs,
    VehicleClass,
    Verdict,
    judge,
    parse_law_file,
)
from elumbra.core.light import Combined
from tests.catalogue.panes import DATA, INCH, film, starting

START = starting()
DOCUMENT = json.loads((DATA / "law" / "us_states.json").read_text(encoding="utf-8"))
FILE = parse_law_file(DOCUMENT)
DAY = "2026-11-24"
LAW = FILE.on(DAY)
CLASSES = {"P": VehicleClass.PASSENGER, "M": VehicleClass.MULTIPURPOSE}
POSITIONS = {
    "FS": Position.FRONT_SIDE, "RS": Position.REAR_SIDE, "RW": Position.REAR_WINDOW, "WS": Position.WINDSHIELD,
    "ROOF": Position.ROOF,
}  # fmt: skip
_ANSWERS = {"yes": True, "no": False, "?": None}
_BEHIND = (Position.REAR_SIDE, Position.REAR_WINDOW)


@dataclass(frozen=True)
class Row:
    """One line of the verdict table."""

    line: int
    state: str
    vehicle_class: VehicleClass
    position: Position
    situation: str
    word: str
    why: str


def rows() -> list[Row]:
    """The hand-written table."""
    found = []
    lines = (Path(__file__).parent / "verdicts.txt").read_text(encoding="utf-8").splitlines()
    for number, line in enumerate(lines, start=1):
        if not line or line.startswith("#"):
            continue
        place, situation, word, why = (part.strip() for part in line.split("|"))
        state, vehicle_class, position = place.split()
        found.append(Row(number, state, CLASSES[vehicle_class], POSITIONS[position], situation, word, why))
    return found


def light(percent: float) -> Combined:
    """Glass and film as metered glass with a film of known sheet has it: a spread of about 5 % of the value, at least 1 point."""
    share = percent / 100
    return Combined(share, share, share, max(0.01, 0.05 * share))


def size(text: str) -> float:
    """Inches such as ``4 1/2`` in mm."""
    return float(sum(Fraction(part) for part in text.split())) * INCH


@dataclass
class Situation:
    """What the words of a situation say of the pane and the car."""

    pane: dict[str, object]
    film: dict[str, object]
    car: dict[str, object]
    others: dict[Position, PaneFacts | None]
    readings: dict[str, bool | None]


def read_situation(text: str, position: Position) -> Situation:
    """Take a situation apart; an unknown word is an error of the table."""
    bare = light(78)
    others: dict[Position, PaneFacts | None] = {
        p: PaneFacts(p, None, bare, bare, id=p.value, label=p.value, factory_glass=False)
        for p in (Position.FRONT_SIDE, *_BEHIND, Position.WINDSHIELD)
        if p is not position
    }
    found = Situation(
        {"combined": light(30), "bare": bare, "factory_glass": False},
        {"reflectance": 0.05, "vlt": 0.9, "vlt_basis": VltBasis.FILM_ALONE},
        {"mirrors_both_sides": True, "model_year": 2020},
        others, {},
    )  # fmt: skip
    for part in text.split(","):
        _one_word(part.split(), found)
    return found


def _one_word(words: list[str], found: Situation) -> None:  # noqa: C901  a table of words
    match words:
        case ["net", "?"]:
            found.pane |= {"combined": None, "bare": None}
        case ["net", percent]:
            found.pane["combined"] = light(float(percent))
        case ["alone", percent]:
            found.film["vlt"] = float(percent) / 100
        case ["reflects", "?"]:
            found.film["reflectance"] = None
        case ["reflects", percent]:
            found.film["reflectance"] = float(percent) / 100
        case ["colour", name]:
            found.film["colours"] = () if name == "?" else (Colour(name),)
        case ["mirror", "finish"]:
            found.film["mirror_finish"] = True
        case ["clear", "film"]:
            found.film |= {"construction": Construction.CLEAR, "colours": (Colour.COLOURLESS,)}
        case ["metal"]:
            found.film["construction"] = Construction.METAL
        case ["mirror", "no"]:
            found.film["mirror_finish"] = False
        case ["layers", number]:
            found.pane["old_layers"] = int(number) - 1
        case ["strip", *inches]:
            found.pane |= {"is_strip": True, "strip_depth": size(" ".join(inches))}
        case ["as1", "none"]:
            found.pane["as1_mark"] = False
        case ["as1", *inches]:
            found.pane["as1_depth"] = size(" ".join(inches))
        case ["seat", *inches]:
            found.pane["strip_above_seat"] = size(" ".join(inches))
        case ["factory", answer]:
            found.pane["factory_glass"] = _ANSWERS[answer]
        case ["mirrors", answer]:
            found.car["mirrors_both_sides"] = _ANSWERS[answer]
        case ["persons", number]:
            found.car["persons"] = int(number)
        case ["chassis", answer]:
            found.car["truck_chassis"] = _ANSWERS[answer]
        case ["off-road", answer]:
            found.car["off_road_parts"] = _ANSWERS[answer]
        case ["year", year]:
            found.car["model_year"] = None if year == "?" else int(year)
        case ["registered", name]:
            found.car["registered_as"] = RegisteredAs(name)
        case ["fronts" | "rears" | "windshield" as which, *rest]:
            _other_panes(which, rest, found)
        case [key, answer]:
            found.readings[key] = _ANSWERS[answer]
        case _:
            raise AssertionError(f"the table says “{' '.join(words)}”, which nobody understands")


def _other_panes(which: str, rest: list[str], found: Situation) -> None:
    at = {"fronts": (Position.FRONT_SIDE,), "rears": _BEHIND, "windshield": (Position.WINDSHIELD,)}[which]
    for position in at:
        if position not in found.others:
            continue
        if rest == ["unlisted"]:
            found.others[position] = None
            continue
        passed = None if rest[0] == "?" else light(float(rest[0]))
        kind = rest[1] if len(rest) > 1 else "bare"
        dark = None if passed and passed.vlt < 0.5 else False
        factory = {"factory": True, "filmed": "factory" in rest, "bare": dark}[kind]
        found.others[position] = PaneFacts(
            position, film() if kind == "filmed" else None, passed, light(78) if kind == "filmed" else passed,
            id=position.value, label=position.value, factory_glass=factory,
        )  # fmt: skip


def book_with(state: str, readings: dict[str, bool | None]) -> LawBook:
    """The rule book with some readings of the law settled by the shop."""
    said = [
        FieldWord(key, state, f"readings.{key}", holds, "made up for this test") for key, holds in readings.items()
    ]  # fmt: skip
    return FILE.on(DAY, said) if said else LAW


def verdict(state: str, vehicle_class: VehicleClass, position: Position, situation: str) -> Verdict:
    """What a state says of a pane in a situation given in words."""
    found = read_situation(situation, position)
    pane = PaneFacts(position, film(**found.film), id="this", label="this window", **found.pane)  # type: ignore[arg-type]
    panes = (pane, *(other for other in found.others.values() if other is not None))
    car = CarFacts(vehicle_class, panes=panes, **found.car)  # type: ignore[arg-type]
    return judge(book_with(state, found.readings).of(state), pane, car, starting=START)
