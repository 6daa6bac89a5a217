"""The file of steps: what each is, when it applies and what it does to glass and film.

A run is the file's sequence, filtered by a situation: the order is written down once, a step that
comes twice has a named repeat. So whatever is combined, what stands before what is known beforehand,
and rules can be proven for all situations at once (``rules``).
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from itertools import groupby
from typing import Any

from elumbra.core.bay.conditions import (
    ALWAYS,
    Condition,
    Situation,
    StepFileError,
    all_of,
    any_of,
    nearest,
    not_,
    parse_condition,
)
from elumbra.core.bay.facts import FACTS
from elumbra.core.bay.figures import FIGURES


class Phase(StrEnum):
    """Parts of the work on a window; each is ticked whole, or unfolds into its steps."""

    PROTECT = "protect"
    OUTSIDE_PREP = "outside_prep"
    CUT = "cut"
    BOARD = "board"
    SHRINK = "shrink"
    INSIDE_PREP = "inside_prep"
    LAST_RINSE = "last_rinse"
    PEEL = "peel"
    PLACE = "place"
    TACK = "tack"
    PRESS = "press"
    EDGES = "edges"
    DRY = "dry"
    PUT_BACK = "put_back"
    FIRST_LOOK = "first_look"
    STRIP = "strip"
    GLUE = "glue"
    CHECK = "check"
    CLOSE = "close"


PHASE_WORDS: Mapping[Phase, str] = {
    Phase.PROTECT: "protect", Phase.OUTSIDE_PREP: "outside prep", Phase.CUT: "cut", Phase.BOARD: "on the board",
    Phase.SHRINK: "shrink", Phase.INSIDE_PREP: "inside prep", Phase.LAST_RINSE: "last rinse", Phase.PEEL: "peel",
    Phase.PLACE: "place", Phase.TACK: "tack", Phase.PRESS: "press", Phase.EDGES: "edges", Phase.DRY: "dry",
    Phase.PUT_BACK: "put back", Phase.FIRST_LOOK: "first look", Phase.STRIP: "take off", Phase.GLUE: "glue",
    Phase.CHECK: "check", Phase.CLOSE: "close the car",
}  # fmt: skip


class Does(StrEnum):
    """What a step does, as far as a rule asks; on a part of the pane where that matters."""

    TOUCH = "touch"  # the inner face, by hand, pad or tool
    RINSE = "rinse"
    WET = "wet"  # water stands there
    SQUEEGEE = "squeegee"
    CLOTH = "cloth"  # on the inner face
    EDGE_WIPE = "edge_wipe"
    RAZOR = "razor"
    SOLVENT = "solvent"
    RAISE = "raise"  # the glass, fully up
    LOWER = "lower"
    TRACE = "trace"  # lines are taken off the glass
    CUT_TOP = "cut_top"
    CUT_BOX = "cut_box"  # of a brake light
    SPINDLE = "spindle"  # the film is relieved round it
    KEEP_FREE = "keep_free"  # camera or sensor
    RAG = "rag"
    DRY_COAT = "dry_coat"  # dryer sheet or powder
    WASH_OUTSIDE = "wash_outside"
    SHRINK = "shrink"  # heat on film outside
    WARN_HEAT = "warn_heat"
    ADHESIVE = "adhesive"  # meets the inner face
    SLIDE_BEHIND = "slide_behind"  # film between glass and lamp
    TACK = "tack"
    PRESS = "press"
    HEAT = "heat"  # on fitted film
    TAKE = "take"  # apart: what, after the colon
    PUT = "put"  # back
    HATCH_UP = "hatch_up"
    HATCH_DOWN = "hatch_down"
    LOOK = "look"
    BRANCH = "branch"  # it asks what decides how the run goes on: which question, after the colon


PLACES = ("all", "top", "sides", "foot", "corners", "middle", "left", "right", "border", "wiper")
_PLACED = frozenset({Does.TOUCH, Does.RINSE, Does.WET, Does.ADHESIVE, Does.TACK, Does.PRESS, Does.HEAT})


@dataclass(frozen=True)
class Effect:
    """One thing that a step does, and where on the pane or to what."""

    does: Does
    on: str = ""

    def reaches(self, other: Effect) -> bool:
        """Whether it happens where the other did."""
        return self.on == other.on or "all" in (self.on, other.on)


@dataclass(frozen=True)
class Step:
    """One step as it stands in the file; ``{names}`` in its sentences are figures."""

    id: str
    phase: Phase
    say: str
    when: Condition
    effects: tuple[Effect, ...]
    tools: tuple[str, ...]
    check: str
    caution: str
    more: str
    minutes: float
    wait: float  # unattended minutes
    why: str
    section: str
    at: str  # the part of the pane that the drawing shows


@dataclass(frozen=True)
class Occurrence:
    """A step at its place in the sequence; ``key`` tells repeats apart."""

    key: str
    step: Step
    when: Condition  # the step's own, its place's, and that there is a run at all, together
    place: Condition = ALWAYS  # its place's alone, shared by a whole group
    hangs_on_found: bool = False  # the step's own asks what is seen on this very car
    round: str = ""


@dataclass(frozen=True)
class School:
    """A question that installers answer differently."""

    name: str
    question: str
    options: Mapping[str, str]
    ours: str
    home: str
    section: str


@dataclass(frozen=True)
class Refusal:
    """A situation in which there is no run at all."""

    when: Condition
    say: str


@dataclass(frozen=True)
class Wrong:
    """Something that goes wrong, and what is done about it."""

    id: str
    words: str
    spoils: bool  # as a rule: the piece is scrap, and is cut again
    twin: bool  # the other piece of a double cut has the same
    always: tuple[Step, ...]  # whatever becomes of the piece
    steps: tuple[Step, ...]  # that mend a sound piece
    section: str


@dataclass(frozen=True)
class Corrections:
    """What mishaps have in common."""

    twin: Step  # on the other piece of the double cut
    scrap: tuple[Step, ...]  # a piece that was fitted comes off
    press: Step  # where film was lifted or rinsed under
    least: Step  # where nothing else is to be done


@dataclass(frozen=True)
class StepBook:
    """All steps of one version."""

    version: str
    schools: Mapping[str, School]
    known: Mapping[str, tuple[str, ...]]  # facts with their values
    steps: Mapping[str, Step]
    sequence: tuple[Occurrence, ...]
    refusals: tuple[Refusal, ...]
    wrongs: Mapping[str, Wrong]
    corrections: Corrections
    things: Mapping[str, str]  # what is taken apart, in words

    @cached_property
    def places(self) -> tuple[tuple[Condition, tuple[Occurrence, ...]], ...]:
        """The sequence by places that share one condition."""
        grouped = groupby(self.sequence, key=lambda one: id(one.place))
        return tuple((group[0].place, tuple(group)) for group in (list(found) for _, found in grouped))

    def found(self, name: str) -> bool:
        """Whether a fact is one that is seen on this very car."""
        return name in FACTS and FACTS[name].found

    def refusal(self, situation: Situation) -> str:
        """Why there is no run; empty where there is one."""
        return next((one.say for one in self.refusals if one.when.holds(situation)), "")


def parse_step_book(document: Mapping[str, Any]) -> StepBook:
    """The file's content, checked.

    Raises
    ------
    StepFileError
        A word, fact, figure or step that is not known; the message names the place and the nearest.
    """
    schools = {one["name"]: School(**one) for one in document["schools"]}
    for school in schools.values():
        if not {school.ours, school.home} <= set(school.options):
            raise StepFileError(f"{school.name}: our answer is none of {', '.join(school.options)}.")
    known = {name: fact.values for name, fact in FACTS.items()}
    known |= {name: tuple(school.options) for name, school in schools.items()}
    steps: dict[str, Step] = {}
    for row in document["steps"]:
        step = _step(row, known)
        if step.id in steps:
            raise StepFileError(f"{step.id}: two steps have this id.")
        steps[step.id] = step
    refusals = tuple(
        Refusal(parse_condition(one["if"], known, where=f"refusal “{one['say']}”"), one["say"])
        for one in document["refuse"]
    )
    sequence = tuple(_sequence(document, steps, known, refusals))
    things = document["things"]
    for step in steps.values():
        for effect in step.effects:
            if effect.does in (Does.TAKE, Does.PUT) and effect.on not in things:
                near = nearest(effect.on, things)
                raise StepFileError(f"{step.id}: “{effect.on}” is no thing; the nearest is “{near}”.")
    wrongs = {row["id"]: _wrong(row, steps) for row in document["wrongs"]}
    corrections = _corrections(document["corrections"], steps)
    put_in = {step.id for wrong in wrongs.values() for step in (*wrong.always, *wrong.steps)}
    put_in |= {step.id for step in (corrections.twin, *corrections.scrap, corrections.press, corrections.least)}
    if idle := sorted(set(steps) - {one.step.id for one in sequence} - put_in):
        raise StepFileError(f"{idle[0]}: no run can ever have this step.")
    return StepBook(str(document["version"]), schools, known, steps, sequence, refusals, wrongs, corrections, things)


_FIELDS = frozenset(
    {"id", "phase", "say", "if", "does", "at", "tools", "check", "caution", "more", "minutes", "wait", "why", "section"}
)


def _step(row: Mapping[str, Any], known: Mapping[str, Sequence[str]]) -> Step:
    where = str(row.get("id", "a step without id"))
    if unknown := sorted(set(row) - _FIELDS):
        raise StepFileError(f"{where}: “{unknown[0]}” is no field; the nearest is “{nearest(unknown[0], _FIELDS)}”.")
    if missing := sorted({"id", "phase", "say", "minutes", "why", "section"} - set(row)):
        raise StepFileError(f"{where}: it says no “{missing[0]}”.")
    step = Step(
        id=where,
        phase=_named(Phase, row["phase"], "phase", where),
        say=row["say"],
        when=parse_condition(row.get("if", {}), known, where=where),
        effects=tuple(_effect(word, where) for word in row.get("does", ())),
        tools=tuple(row.get("tools", ())),
        check=row.get("check", ""),
        caution=row.get("caution", ""),
        more=row.get("more", ""),
        minutes=float(row["minutes"]),
        wait=float(row.get("wait", 0.0)),
        why=row["why"],
        section=row["section"],
        at=row.get("at", ""),
    )
    if step.at and step.at not in PLACES:
        raise StepFileError(f"{where}: “{step.at}” is no part of a pane; the nearest is “{nearest(step.at, PLACES)}”.")
    for name in figures_in(step):
        if name not in FIGURES:
            raise StepFileError(f"{where}: “{name}” is no figure; the nearest is “{nearest(name, FIGURES)}”.")
    return step


def figures_in(step: Step) -> frozenset[str]:
    """The figures that a step's sentences name."""
    return frozenset(re.findall(r"\{(\w+)\}", f"{step.say} {step.check} {step.why} {step.more}"))


def _named(kind: Any, word: Any, what: str, where: str) -> Any:
    try:
        return kind(word)
    except ValueError:
        near = nearest(str(word), list(kind))
        raise StepFileError(f"{where}: “{word}” is no {what}; the nearest known one is “{near}”.") from None


def _effect(word: str, where: str) -> Effect:
    name, _, on = word.partition(":")
    does = _named(Does, name, "word for what a step does", where)
    if does in _PLACED and (on or "all") not in PLACES:
        raise StepFileError(f"{where}: “{on}” is no part of a pane; the nearest is “{nearest(on, PLACES)}”.")
    if does in (Does.TAKE, Does.PUT) and not on:
        raise StepFileError(f"{where}: “{name}” says what, after a colon.")
    return Effect(does, on or ("all" if does in _PLACED else ""))


def _sequence(
    document: Mapping[str, Any],
    steps: Mapping[str, Step],
    known: Mapping[str, Sequence[str]],
    refusals: tuple[Refusal, ...],
) -> list[Occurrence]:
    groups, found, taken = document["groups"], [], set[str]()
    never = not_(any_of(*(one.when for one in refusals))) if refusals else ALWAYS
    for entry in document["sequence"]:
        name = entry.get("group") or entry.get("step") or ""
        if "group" in entry and name not in groups:
            raise StepFileError(f"sequence: “{name}” is no group; the nearest is “{nearest(name, groups)}”.")
        when = parse_condition(entry.get("if", {}), known, where=f"sequence, {name}")
        for step_id in groups[name] if "group" in entry else [name]:
            step = _known(step_id, steps, "sequence")
            repeat = entry.get("round", "")
            key = f"{step_id}@{repeat}" if repeat else step_id
            if key in taken:
                raise StepFileError(f"sequence: “{step_id}” comes twice; a repeat has a name of its own (“round”).")
            taken.add(key)
            hangs = any(name in FACTS and FACTS[name].found for name in step.when.facts)
            found.append(Occurrence(key, step, all_of(never, when, step.when), when, hangs, repeat))
    return found


def _wrong(row: Mapping[str, Any], steps: Mapping[str, Step]) -> Wrong:
    always, mend = (tuple(_known(one, steps, row["id"]) for one in row[name]) for name in ("always", "steps"))
    return Wrong(row["id"], row["words"], row["spoils"], row["twin"], always, mend, row["section"])


def _corrections(row: Mapping[str, Any], steps: Mapping[str, Step]) -> Corrections:
    twin, press, least = (_known(row[name], steps, "corrections") for name in ("twin", "press", "least"))
    return Corrections(twin, tuple(_known(one, steps, "corrections") for one in row["scrap"]), press, least)


def _known(step_id: str, steps: Mapping[str, Step], where: str) -> Step:
    if step_id not in steps:
        raise StepFileError(f"{where}: “{step_id}” is no step; the nearest is “{nearest(step_id, steps)}”.")
    return steps[step_id]
