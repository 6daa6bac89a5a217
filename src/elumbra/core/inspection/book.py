"""The flaw table: what is seen, what likely caused it, what to do; read from its data file and checked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from elumbra.core.errors import CoreError


class FlawTableError(CoreError):
    """The table says something that cannot be; the message names the place."""


class Decision(StrEnum):
    """What becomes of a flaw."""

    KEEP = "keep"  # it may stay
    TOUCH_UP = "touch_up"  # put right on the pane
    REDO = "redo"  # the piece is cut again


class Wetness(StrEnum):
    """Whether the film can still be moved."""

    WET = "wet"
    SET = "set"


class Zone(StrEnum):
    """Where on the pane, as the standard counts."""

    VIEW = "view"  # looked through
    EDGE = "edge"
    HIDDEN = "hidden"  # behind the seal, on the border, or covered once the window is shut


class Unit(StrEnum):
    """What the standard counts on."""

    WINDOW = "window"
    CAR = "car"


class Group(StrEnum):
    """Whose flaw it is, as a warranty asks."""

    FITTING = "fitting"  # of the work
    DRYING = "drying"  # goes away, or is water and air
    FILM = "film"  # of the film itself
    OWNER = "owner"  # cannot be put right by film alone: shown to the owner


class HuntSide(StrEnum):
    """Where one stands while looking."""

    OUTSIDE = "outside"
    INSIDE = "inside"


@dataclass(frozen=True)
class Evidence:
    """A fact of a window's run that speaks for or against causes."""

    name: str
    words: str  # what is so where it holds
    ask: str  # the question where nobody recorded it; empty: never asked
    source: str  # how it is told from the record
    argument: Any  # what that way of telling looks at


@dataclass(frozen=True)
class Cause:
    """Why a flaw may be there; no cause is a person."""

    id: str
    words: str
    section: str
    weighs: Mapping[str, tuple[float, float]]  # by evidence: factor where it holds, and where it does not


@dataclass(frozen=True)
class RemedyStep:
    """One thing to do, with how warm, how hard, and with what."""

    do: str
    heat: str
    press: str
    tool: str


@dataclass(frozen=True)
class FlawKind:
    """A kind of flaw."""

    id: str
    short: str  # in a word or two, where room is scarce
    words: str
    group: Group
    causes: Mapping[str, float]  # by cause, how likely where nothing else is known
    decides: Mapping[Wetness, Decision]
    remedy: Mapping[Wetness, tuple[RemedyStep, ...]]
    section: str
    note: str = ""
    many: int | None = None  # from so many on it is cut again
    owner: bool = False  # shown to the owner whatever else
    owner_may_accept: bool = False  # where it is hidden
    owner_facts: tuple[str, ...] = ()  # what an owner can have done that brings it
    wrong: str = "other"  # what went wrong, as the bay puts it into the run where the piece is cut again


@dataclass(frozen=True)
class HuntStep:
    """One way of looking."""

    id: str
    side: HuntSide
    say: str


@dataclass(frozen=True)
class StandardRule:
    """So many flaws of a kind may stay in a zone, none larger than this [mm]."""

    kind: str
    zone: Zone
    most: int
    mm: float


@dataclass(frozen=True)
class Standard:
    """What counts as good; a kind and zone without a rule: none may stay."""

    unit: Unit
    rules: tuple[StandardRule, ...]
    own: bool = False  # the shop's, no longer ours

    def rule(self, kind: str, zone: Zone) -> StandardRule:
        """The rule of a kind in a zone."""
        found = next((one for one in self.rules if (one.kind, one.zone) == (kind, zone)), None)
        return found or StandardRule(kind, zone, 0, 0.0)


@dataclass(frozen=True)
class FlawBook:
    """All of one version."""

    version: str
    evidence: Mapping[str, Evidence]
    causes: Mapping[str, Cause]
    flaws: Mapping[str, FlawKind]
    hunt: tuple[HuntStep, ...]
    standard: Standard

    def flaw(self, kind: str) -> FlawKind:
        """A kind of flaw.

        Raises
        ------
        CoreError
            Nobody knows it; the nearest one is named.
        """
        if kind not in self.flaws:
            near = _nearest(kind, self.flaws)
            raise CoreError(f"There is no kind of flaw “{kind[:60]}”.", fields={"kind": f"Did you mean “{near}”?"})
        return self.flaws[kind]


SOURCES = (
    "steps", "skipped", "order", "minutes_between", "paused", "hands", "situation", "day", "wrong", "finding",
    "finding_read", "fact", "strip", "readings", "twin", "lot", "film", "age", "place", "asked",
)  # fmt: skip
"""Ways of telling a fact from the record; each is a function of ``evidence``."""


def parse_flaw_book(document: Mapping[str, Any]) -> FlawBook:
    """The file's content.

    Raises
    ------
    FlawTableError
        An unknown cause, fact, kind or way of telling; the nearest known one is named.
    """
    evidence = _by_key((_evidence(row) for row in document["evidence"]), "name", "fact")
    causes = _by_key((_cause(row, evidence) for row in document["causes"]), "id", "cause")
    flaws = _by_key((_flaw(row, causes, evidence) for row in document["flaws"]), "id", "kind of flaw")
    hunt = tuple(HuntStep(row["id"], _named(HuntSide, row["side"], "side"), row["say"]) for row in document["hunt"])
    standard = parse_standard(document["standard"], flaws)
    for cause in causes:
        if not any(cause in one.causes for one in flaws.values()):
            raise FlawTableError(f"“{cause}” is the cause of no flaw.")
    return FlawBook(str(document["version"]), evidence, causes, flaws, hunt, standard)


def parse_standard(document: Mapping[str, Any], flaws: Mapping[str, FlawKind], *, own: bool = False) -> Standard:
    """A written standard.

    Raises
    ------
    FlawTableError
        A kind that is none, a rule that stands twice, or a count or size below nothing.
    """
    rules: list[StandardRule] = []
    for row in document["rules"]:
        _known(row["kind"], flaws, "kind of flaw", "the standard")
        rule = StandardRule(row["kind"], _named(Zone, row["zone"], "zone"), int(row["most"]), float(row["mm"]))
        if rule.most < 0 or not 0 <= rule.mm <= 1000:
            raise FlawTableError(f"The standard for {rule.kind}: {rule.most} of {rule.mm:g} mm cannot be counted.")
        if any((one.kind, one.zone) == (rule.kind, rule.zone) for one in rules):
            raise FlawTableError(f"The standard speaks twice of {rule.kind} in {rule.zone}.")
        rules.append(rule)
    return Standard(_named(Unit, document["unit"], "unit"), tuple(rules), own)


def _evidence(row: Mapping[str, Any]) -> Evidence:
    told: Mapping[str, Any] = row["from"] or {"asked": True}
    if len(told) != 1:
        raise FlawTableError(f"“{row['name']}” is told in more than one way.")
    source, argument = next(iter(told.items()))
    _known(source, SOURCES, "way of telling", row["name"])
    if source == "asked" and not row["ask"]:
        raise FlawTableError(f"“{row['name']}” is neither recorded nor asked.")
    return Evidence(row["name"], row["words"], row["ask"], source, argument)


def _cause(row: Mapping[str, Any], evidence: Mapping[str, Evidence]) -> Cause:
    weighs = {}
    for name, (holds, fails) in row["facts"].items():
        _known(name, evidence, "fact", f"cause {row['id']}")
        if holds <= 0 or fails <= 0:
            raise FlawTableError(f"cause {row['id']}: “{name}” cannot weigh nothing.")
        weighs[name] = (float(holds), float(fails))
    return Cause(row["id"], row["words"], row["section"], MappingProxyType(weighs))


def _flaw(row: Mapping[str, Any], causes: Mapping[str, Cause], evidence: Mapping[str, Evidence]) -> FlawKind:
    for cause in row["causes"]:
        _known(cause, causes, "cause", row["id"])
    for name in row.get("owner_facts", ()):
        _known(name, evidence, "fact", row["id"])
    return FlawKind(
        id=row["id"],
        short=row["short"],
        words=row["words"],
        group=_named(Group, row["group"], "group"),
        causes=MappingProxyType({name: float(weight) for name, weight in row["causes"].items()}),
        decides=MappingProxyType({one: _named(Decision, row[one.value], "decision") for one in Wetness}),
        remedy=MappingProxyType({one: tuple(RemedyStep(**step) for step in row["remedy"][one]) for one in Wetness}),
        section=row["section"],
        note=row.get("note", ""),
        many=row.get("many"),
        owner=row.get("owner", False),
        owner_may_accept=row.get("owner_may_accept", False),
        owner_facts=tuple(row.get("owner_facts", ())),
        wrong=row.get("wrong", "other"),
    )


def _by_key(made: Iterable[Any], key: str, what: str) -> Mapping[str, Any]:
    found: dict[str, Any] = {}
    for one in made:
        name = getattr(one, key)
        if name in found:
            raise FlawTableError(f"The {what} “{name}” stands twice.")
        found[name] = one
    return MappingProxyType(found)


def _named(kind: Any, word: Any, what: str) -> Any:
    try:
        return kind(word)
    except ValueError:
        near = _nearest(str(word), [str(one) for one in kind])
        raise FlawTableError(f"“{word}” is no {what}; the nearest known one is “{near}”.") from None


def _known(name: str, known: Iterable[str], what: str, where: str) -> None:
    if name not in known:
        near = _nearest(name, known)
        raise FlawTableError(f"{where}: “{name}” is no {what}; the nearest known one is “{near}”.")


def _nearest(word: str, known: Iterable[str]) -> str:
    return get_close_matches(word, list(known), n=1, cutoff=0.0)[0]
