"""The closed vocabulary in which the law's clauses are written.

A condition is one word with its argument, as it stands in the law file::

    {"any": [{"floor": true},
             {"other_windows": {"at": ["windshield", "front_side"], "least": 70}}]}

What is not in the vocabulary is refused when the file is read, with the nearest known word.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum
from typing import Any

from elumbra.core.film import Colour
from elumbra.core.glass import Position
from elumbra.core.law.facts import RegisteredAs

BUILT_FEATURES = ("truck_chassis", "off_road_parts")


class Word(StrEnum):
    """Every kind of condition; ``HELP`` says what each means, with an example."""

    ALL = "all"
    ANY = "any"
    FLOOR = "floor"
    THIS_WINDOW = "this_window"
    OTHER_WINDOWS = "other_windows"
    NO_FILM_ON = "no_film_on"
    FILM_ALONE = "film_alone"
    FILM_REFLECTS = "film_reflects"
    WINDOW_REFLECTS = "window_reflects"
    NO_MIRROR_FINISH = "no_mirror_finish"
    NON_REFLECTIVE = "non_reflective"
    FILM_COLOUR_NOT = "film_colour_not"
    FILM_CLEAR = "film_clear"
    FILM_LAYERS = "film_layers"
    FACTORY_GLASS = "factory_glass"
    OUTSIDE_MIRRORS = "outside_mirrors"
    REGISTERED_AS = "registered_as"
    BUILT_AS = "built_as"
    MODEL_YEAR = "model_year"
    STRIP = "strip"
    SEAT_HEIGHT = "seat_height"
    SETTLED = "settled"


# What each word means, and its argument as it stands in a law file: percent, inches.
HELP: Mapping[Word, tuple[str, Any]] = {
    Word.ALL: ("every one of a list", [{"floor": True}, {"outside_mirrors": True}]),
    Word.ANY: ("at least one of a list", [{"floor": True}, {"film_clear": True}]),
    Word.FLOOR: ("the figure in the record's own table for this pane", True),
    Word.THIS_WINDOW: ("this pane, glass and film, passes at least", {"least": 50}),
    Word.OTHER_WINDOWS: ("every other pane at the positions passes at least", {"at": ["front_side"], "least": 70}),
    Word.NO_FILM_ON: ("panes at the positions carry no film, old film included", ["front_side"]),
    Word.FILM_ALONE: ("the film by itself passes at least", {"least": 88}),
    Word.FILM_REFLECTS: ("the film's sheet states at most", {"most": 13}),
    Word.WINDOW_REFLECTS: ("glass and film together give back at most, seen from outdoors", {"most": 25}),
    Word.NO_MIRROR_FINISH: ("not metallic or mirrored to the eye", True),
    Word.NON_REFLECTIVE: ("film that does not reflect, with no figure in the law", True),
    Word.FILM_COLOUR_NOT: ("the film has none of the colours", ["gold", "silver"]),
    Word.FILM_CLEAR: ("clear, colourless film that alone passes nearly all light", True),
    Word.FILM_LAYERS: ("sheets of film on the pane, at most", {"most": 1}),
    Word.FACTORY_GLASS: (
        "this pane, or those at a list of positions and without film, made dark in the factory",
        "this",
    ),
    Word.OUTSIDE_MIRRORS: ("an outside mirror on each side", True),
    Word.REGISTERED_AS: ("the class on the registration paper is one of these", ["van", "pickup"]),
    Word.BUILT_AS: (
        "the vehicle carries no more persons, and has at least one of the features",
        {"persons_at_most": 10, "any": ["truck_chassis", "off_road_parts"]},
    ),
    Word.MODEL_YEAR: ("the section covers this model year and later", {"from": 1994, "otherwise": "another section."}),
    Word.STRIP: ("how deep a strip may reach from the top of the glass", {"rule": "longer", "inches": 5}),
    Word.SEAT_HEIGHT: ("the strip's edge is so far above the driver's seat", {"least_inches": 29}),
    Word.SETTLED: ("a reading of the law, named in the record, that somebody must confirm", "rear_exception"),
}


class StripRule(StrEnum):
    """How deep a strip may reach, measured from the top of the glass."""

    INCHES = "inches"
    AS1 = "as1"  # down to the maker's AS-1 line
    LONGER = "longer"  # of AS-1 and inches
    SHORTER = "shorter"  # of AS-1 and inches
    AS1_ELSE_INCHES = "as1_else_inches"  # inches where the glass has no line
    AS1_OR_INCHES = "as1_or_inches"  # the record does not say which of the two governs
    SEAT_HEIGHT = "seat_height"  # lower edge a height above the driver's seat
    AS_BELOW = "as_below"  # no separate strip: what holds below holds here
    NONE = "none"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Condition:
    """One word with its argument; light as fractions, lengths in inches as the law states them."""

    word: Word
    parts: tuple[Condition, ...] = ()
    at: tuple[Position, ...] = ()
    least: float | None = None
    most: float | None = None
    among: tuple[str, ...] = ()
    strip: StripRule | None = None
    inches: float | None = None
    key: str = ""
    floor: str = ""  # kind of the table's figure, put in when a record's clauses are built


def all_of(*parts: Condition) -> Condition:
    """Every one of them."""
    return parts[0] if len(parts) == 1 else Condition(Word.ALL, parts)


def any_of(*parts: Condition) -> Condition:
    """At least one of them."""
    return parts[0] if len(parts) == 1 else Condition(Word.ANY, parts)


def parse_condition(document: Any) -> Condition:
    """A condition as it stands in the law file.

    Raises
    ------
    ValueError
        Not one word with its argument; an unknown word names the nearest known one.

    Examples
    --------
    >>> parse_condition({"this_window": {"least": 35}}).least
    0.35
    >>> parse_condition({"film_alne": {"least": 88}})
    Traceback (most recent call last):
    ValueError: unknown condition word “film_alne”; the nearest known word is “film_alone”
    """
    if not isinstance(document, Mapping) or len(document) != 1:
        raise ValueError(f"a condition is one word with its argument, not {document!r}")
    name, argument = next(iter(document.items()))
    word = _word(str(name))
    if word in (Word.ALL, Word.ANY):
        if not isinstance(argument, list) or not argument:
            raise ValueError(f"“{word}” needs a list of conditions")
        return Condition(word, tuple(parse_condition(part) for part in argument))
    return _READERS[word](word, argument)


def words_in(condition: Condition) -> set[Word]:
    """Every word used in a condition."""
    return {condition.word}.union(*(words_in(part) for part in condition.parts))


def _word(name: str) -> Word:
    try:
        return Word(name)
    except ValueError:
        near = get_close_matches(name, list(Word), n=1, cutoff=0.0)
        raise ValueError(f"unknown condition word “{name}”; the nearest known word is “{near[0]}”") from None


def _flag(word: Word, argument: Any) -> Condition:
    if argument is not True:
        raise ValueError(f"“{word}” takes true, not {argument!r}")
    return Condition(word)


def _share(word: Word, argument: Any) -> Condition:
    bound = _bound(word, argument, {"least", "most", "at"})
    return Condition(word, least=bound.get("least"), most=bound.get("most"), at=_positions(argument.get("at", [])))


def _bound(word: Word, argument: Any, allowed: set[str]) -> dict[str, float]:
    if not isinstance(argument, Mapping) or set(argument) - allowed or not {"least", "most"} & set(argument):
        raise ValueError(f"“{word}” takes least or most, in percent; it has {argument!r}")
    found = {}
    for name in ("least", "most"):
        if name in argument:
            if not isinstance(argument[name], int | float) or not 0 <= argument[name] <= 100:
                raise ValueError(f"“{word}”: {argument[name]!r} is outside 0 to 100 %")
            found[name] = argument[name] / 100
    return found


def _positions(names: Any) -> tuple[Position, ...]:
    return tuple(Position(name) for name in names)


def _at(word: Word, argument: Any) -> Condition:
    if not isinstance(argument, list) or not argument:
        raise ValueError(f"“{word}” needs a list of positions")
    return Condition(word, at=_positions(argument))


def _factory(word: Word, argument: Any) -> Condition:
    return Condition(word) if argument == "this" else _at(word, argument)


def _classes(word: Word, argument: Any) -> Condition:
    return Condition(word, among=tuple(RegisteredAs(name).value for name in argument))


def _colours(word: Word, argument: Any) -> Condition:
    return Condition(word, among=tuple(colour_named(name).value for name in argument))


def colour_named(name: Any) -> Colour:
    """A colour of the closed list.

    Raises
    ------
    ValueError
        Not on the list; the nearest is named.
    """
    try:
        return Colour(str(name).lower())
    except ValueError:
        near = get_close_matches(str(name).lower(), list(Colour), n=1, cutoff=0.0)
        raise ValueError(f"“{name}” is not a colour of the list; the nearest is “{near[0]}”") from None


def _built(word: Word, argument: Any) -> Condition:
    features = tuple(str(name) for name in argument["any"])
    if unknown := set(features) - set(BUILT_FEATURES):
        raise ValueError(f"“{word}” knows {', '.join(BUILT_FEATURES)}, not {', '.join(sorted(unknown))}")
    return Condition(word, most=float(argument["persons_at_most"]), among=features)


def _layers(word: Word, argument: Any) -> Condition:
    return Condition(word, most=float(argument["most"]))


def _year(word: Word, argument: Any) -> Condition:
    return Condition(word, least=float(argument["from"]), key=str(argument.get("otherwise", "")))


def _strip(word: Word, argument: Any) -> Condition:
    rule = StripRule(argument["rule"])
    inches = argument.get("inches")
    if inches is None and rule not in (StripRule.AS1, StripRule.NONE, StripRule.UNKNOWN):
        raise ValueError(f"strip rule “{rule}” needs inches")
    return Condition(word, strip=rule, inches=inches)


def _seat(word: Word, argument: Any) -> Condition:
    return Condition(word, inches=float(argument["least_inches"]))


def _key(word: Word, argument: Any) -> Condition:
    return Condition(word, key=str(argument))


_READERS = {
    Word.FLOOR: _flag,
    Word.THIS_WINDOW: _share,
    Word.OTHER_WINDOWS: _share,
    Word.NO_FILM_ON: _at,
    Word.FILM_ALONE: _share,
    Word.FILM_REFLECTS: _share,
    Word.WINDOW_REFLECTS: _share,
    Word.NO_MIRROR_FINISH: _flag,
    Word.NON_REFLECTIVE: _flag,
    Word.FILM_COLOUR_NOT: _colours,
    Word.FILM_CLEAR: _flag,
    Word.FILM_LAYERS: _layers,
    Word.FACTORY_GLASS: _factory,
    Word.OUTSIDE_MIRRORS: _flag,
    Word.REGISTERED_AS: _classes,
    Word.BUILT_AS: _built,
    Word.MODEL_YEAR: _year,
    Word.STRIP: _strip,
    Word.SEAT_HEIGHT: _seat,
    Word.SETTLED: _key,
}
