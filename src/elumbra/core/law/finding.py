"""What evaluating a condition finds: kept, broken, cannot tell, or no rule on file."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from enum import StrEnum
from typing import NamedTuple

from elumbra.core.law.facts import Question


class State(StrEnum):
    """Outcome of a condition or clause."""

    KEPT = "kept"
    NO_RULE = "no rule on file"
    CANNOT_TELL = "cannot tell"
    BROKEN = "broken"


class LightTest(NamedTuple):
    """A figure held against a limit (0 to 1) and the chance that a meter reads under it."""

    vlt: float
    limit: float
    risk: float

    @property
    def margin(self) -> float:
        """How far over the limit; negative when under."""
        return self.vlt - self.limit


class Finding(NamedTuple):
    """Outcome with its sentence, which is put into words only when somebody asks.

    ``barred`` tells a break that no lighter film mends; ``close`` a kept one that a meter may
    read otherwise, ``within`` one under its limit by no more than the law's tolerance.
    """

    state: State
    tell: str | Callable[[], str] | tuple[Finding, ...] = ""
    barred: bool = False
    close: bool = False
    within: bool = False  # kept only by the tolerance that the law grants the meter
    light: LightTest | None = None
    questions: tuple[Question, ...] = ()
    other_ways: tuple[Finding, ...] = ()  # what else would suffice, all broken, nearest first

    @property
    def words(self) -> str:
        """The sentence, or those of its parts, each once."""
        return " ".join(dict.fromkeys(self.sentences()))

    @property
    def brief(self) -> str:
        """The same, with the nearest of other ways that are not met either, and the rest only counted."""
        return " ".join(dict.fromkeys(self.sentences(brief=True)))

    def sentences(self, *, brief: bool = False) -> Iterator[str]:
        """The sentences of its parts, in order."""
        if isinstance(self.tell, tuple):
            for part in self.tell:
                yield from part.sentences(brief=brief)
        else:
            sentence = self.tell if isinstance(self.tell, str) else self.tell()
            if sentence:
                yield sentence
        shown = self.other_ways[:1] if brief else self.other_ways
        for way in shown:
            yield from way.sentences(brief=brief)
        left = len(self.other_ways) - len(shown)
        if left:
            yield "One more way in the law is not met." if left == 1 else f"{left} more ways in the law are not met."

    def about_light(self) -> str:
        """The sentence of the part that holds a figure against its limit, or nothing."""
        if isinstance(self.tell, tuple):
            return next((words for part in self.tell if (words := part.about_light())), "")
        return self.brief if self.light else ""


def of_all(found: Sequence[Finding]) -> Finding:
    """Every one must hold: the worst decides; a break stands whatever else is unknown.

    That one was kept only by a tolerance, or closely, stays with the whole whatever decides it.
    """
    worst = max((one.state for one in found), key=_BADNESS.__getitem__, default=State.KEPT)
    close, within = any(one.close for one in found), any(one.within for one in found)
    light = _tightest(found)
    if worst is not State.KEPT:
        same = [one for one in found if one.state is worst]
        questions = _questions(same) if worst is State.CANNOT_TELL else ()
        barred = worst is State.BROKEN and any(one.barred for one in same)
        return Finding(worst, tuple(same), barred, close, within, light, questions)
    told = found[0] if light is None else next(one for one in found if one.light is light)
    return Finding(State.KEPT, told.tell, close=close, within=within, light=light)


_BADNESS = {State.KEPT: 0, State.NO_RULE: 1, State.CANNOT_TELL: 2, State.BROKEN: 3}


def of_any(found: Sequence[Finding]) -> Finding:
    """One must hold: the best decides. Kept beats unknown; unknown beats broken."""
    kept = [one for one in found if one.state is State.KEPT]
    if kept:
        return min(kept, key=lambda one: (one.within, one.close))
    light = next((one.light for one in found if one.light), None)
    unknown = [one for one in found if one.state is State.CANNOT_TELL]
    if unknown:
        return Finding(State.CANNOT_TELL, tuple(found), light=light, questions=_questions(unknown))
    for one in found:
        if one.state is State.NO_RULE:
            return one._replace(light=light)
    # Broken every way: what a lighter film would mend is told first, then by how little is missing.
    nearest, *others = sorted(found, key=lambda one: (one.barred, -(one.light.margin if one.light else -1.0)))
    return nearest._replace(other_ways=(*nearest.other_ways, *others))


def _tightest(found: Sequence[Finding]) -> LightTest | None:
    tightest: LightTest | None = None
    for one in found:
        if one.light and (tightest is None or one.light.margin < tightest.margin):
            tightest = one.light
    return tightest


def _questions(found: Sequence[Finding]) -> tuple[Question, ...]:
    return tuple(dict.fromkeys(question for one in found for question in one.questions))
