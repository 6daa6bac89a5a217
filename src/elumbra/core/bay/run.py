"""A situation's ordered run, with its figures filled in, and what went wrong put into it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, replace

from elumbra.core.bay.conditions import Situation
from elumbra.core.bay.figures import filled
from elumbra.core.bay.steps import Does, Phase, Step, StepBook, Wrong


@dataclass(frozen=True)
class RunStep:
    """One step of a run, ready to be read."""

    key: str
    step: Step
    say: str
    check: str
    why: str
    round: str = ""
    special: bool = False  # it is there because of what was found on this very car
    again: bool = False  # put in because something went wrong
    minutes: float = 0.0
    wait: float = 0.0

    @property
    def phase(self) -> Phase:
        """Part of the work."""
        return self.step.phase


@dataclass(frozen=True)
class Block:
    """Steps of one phase that follow each other: ticked whole, or unfolded."""

    key: str
    phase: Phase
    repeat: int  # 1 for the first time that this phase comes
    steps: tuple[RunStep, ...]


@dataclass(frozen=True)
class Run:
    """The work on one window, or on the car before or after its windows."""

    steps: tuple[RunStep, ...]
    refusal: str = ""  # why there is none

    @property
    def blocks(self) -> tuple[Block, ...]:
        """Steps by phase, in order, each block with the key of its first step."""
        found: list[list[RunStep]] = []
        for one in self.steps:
            if found and found[-1][0].phase is one.phase and found[-1][0].again == one.again:
                found[-1].append(one)
            else:
                found.append([one])
        told: dict[Phase, int] = {}
        blocks = []
        for group in found:
            phase = group[0].phase
            told[phase] = told.get(phase, 0) + 1
            blocks.append(Block(f"block:{group[0].key}", phase, told[phase], tuple(group)))
        return tuple(blocks)


def make_run(book: StepBook, situation: Situation, figures: Mapping[str, str]) -> Run:
    """The steps that apply, in the order of the file.

    Raises
    ------
    KeyError
        The situation leaves a fact open.
    """
    if refusal := book.refusal(situation):
        return Run((), refusal)
    usual = {name: book.known[name][0] if book.found(name) else value for name, value in situation.items()}
    steps = []
    for place, members in book.places:
        if not place.holds(situation):
            continue
        for one in members:
            if one.step.when.holds(situation):
                special = one.hangs_on_found and not one.step.when.holds(usual)
                steps.append(_ready(one.step, one.key, figures, repeat=one.round, special=special))
    return Run(tuple(steps))


def _ready(
    step: Step,
    key: str,
    figures: Mapping[str, str],
    *,
    repeat: str = "",
    special: bool = False,
    again: bool = False,
) -> RunStep:
    return RunStep(
        key=key, step=step, say=filled(step.say, figures), check=filled(step.check, figures),
        why=filled(step.why, figures), round=repeat, special=special, again=again, minutes=step.minutes, wait=step.wait,
    )  # fmt: skip


@dataclass(frozen=True)
class Mishap:
    """Something that went wrong at a step of a run."""

    id: str  # of its event
    what: str  # a wrong of the book
    at: str  # key of the step, or empty: where the run stands
    spoilt: bool  # the piece is scrap
    twin: bool = False  # seen on the other piece of the double cut


def with_mishap(book: StepBook, run: Run, mishap: Mishap, figures: Mapping[str, str], *, stands: str = "") -> Run:
    """A run with the steps put in that must be done again.

    They stand before the step at which it went wrong. Where the piece is spoilt, everything from the cut on is
    repeated up to there; what hides an edge and was put back already is taken apart again first.

    Parameters
    ----------
    book, run, figures
        What the run was made of.
    mishap
        What went wrong, and where.
    stands
        Key of the step where the run stands, for a mishap whose step is not in it.
    """
    wrong = book.wrongs.get(mishap.what) or book.wrongs["other"]
    keys = [one.key for one in run.steps]
    place = mishap.at if mishap.at in keys else stands
    at = keys.index(place) if place in keys else len(keys)
    before = run.steps[:at]
    mark = f"~{mishap.id[:12]}"
    corrections = [
        _ready(step, step.id + mark, figures, again=True) for step in _corrections(book, wrong, mishap, before)
    ]
    repeated = _repeated(before) if mishap.spoilt else []
    pressed = any(effect.does is Does.PRESS for one in (*corrections, *repeated) for effect in one.step.effects)
    apart, back = _apart_again(before, {one.key for one in repeated}) if pressed else ([], [])
    copies = [replace(one, key=one.key + mark, again=True) for one in (*apart, *repeated, *back)]
    opened = len(apart)
    put_in = (*copies[:opened], *corrections, *copies[opened:])
    return replace(run, steps=(*before, *put_in, *run.steps[at:]))


def _corrections(book: StepBook, wrong: Wrong, mishap: Mishap, before: Sequence[RunStep]) -> list[Step]:
    """What mends it; nothing is peeled off, lifted or pressed on glass that film has not met."""
    common = book.corrections
    fitted = any(effect.does is Does.ADHESIVE for one in before for effect in one.step.effects)
    found = [common.twin] if mishap.twin else []
    found += wrong.always
    if not mishap.spoilt:
        found += [step for step in wrong.steps if fitted or not _meets_film(step)]
    elif fitted:
        found += common.scrap
    done = {effect.does for step in found for effect in step.effects}
    if Does.WET in done and fitted and not mishap.spoilt:
        found.append(common.press)  # no water may stand under it
    if Does.DRY_COAT in done:
        found += [one.step for one in before if any(e.does is Does.WASH_OUTSIDE for e in one.step.effects)]
    return list({step.id: step for step in found or [common.least]}.values())


def _meets_film(step: Step) -> bool:
    return any(effect.does in (Does.ADHESIVE, Does.PRESS) for effect in step.effects)


_NOT_AGAIN = frozenset({Phase.PROTECT, Phase.OUTSIDE_PREP, Phase.INSIDE_PREP, Phase.STRIP, Phase.GLUE, Phase.CHECK})


def _repeated(before: Sequence[RunStep]) -> list[RunStep]:
    """What is done again for a new piece: all from the first cut on but protecting and cleaning."""
    first = next((i for i, one in enumerate(before) if one.phase in (Phase.CUT, Phase.BOARD)), len(before))
    return [one for one in before[first:] if one.phase not in _NOT_AGAIN and not one.again]


def _apart_again(before: Sequence[RunStep], repeated: Set[str]) -> tuple[list[RunStep], list[RunStep]]:
    """What hides an edge and was put back already: its steps apart, and back again where those are not repeated."""
    apart, back = [], []
    for put in before:
        things = {one.on for one in put.step.effects if one.does is Does.PUT} & EDGE_THINGS
        if not things or put.again:
            continue
        apart += [
            one
            for one in before
            if not one.again and any(e.does is Does.TAKE and e.on in things for e in one.step.effects)
        ]
        if put.key not in repeated:
            back.append(put)
    return apart, back


EDGE_THINGS = frozenset({"weather_strip", "gasket", "panel", "seal_tape"})
"""What hides an edge of the pane: it goes back after that edge was pressed."""
