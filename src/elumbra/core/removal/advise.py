"""Ways of taking old film off one window, ranked by what they are likely to cost.

Figures are our assumption until the shop's own results replace them; each estimate is a range.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from statistics import median

from elumbra.core.glass import GlassType
from elumbra.core.removal.case import Case, GlueWay, OldLook, Tool, Way
from elumbra.core.removal.own import Chance, OwnResult, chance_of, of_way
from elumbra.core.removal.table import Change, GlueRow, RemovalTable, Signs, WayRow
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class Range:
    """From and to."""

    low: float
    high: float

    @property
    def middle(self) -> float:
        """Halfway."""
        return (self.low + self.high) / 2


@dataclass(frozen=True)
class Ranked:
    """One way with what it is expected to take, leave and risk."""

    way: Way
    words: str
    refused: str  # why it is not taken; empty where it may be
    minutes: Range  # of work, glue apart
    wait: Range  # unattended
    clean: float  # share of windows on which both layers come off at once
    clean_words: str
    own: Chance | None  # in place of the words once there are enough own results
    own_minutes: int  # how many own times the minutes are from; 0: customary
    glue_minutes: Range
    lines_risk: float  # that a defroster line lifts
    price: Range
    reasons: tuple[str, ...]
    section: str

    @property
    def basis(self) -> str:
        """Where the estimate comes from."""
        if self.own is not None:
            return f"own results, n = {self.own.number}"
        return "our assumption, until twenty own results are there"


@dataclass(frozen=True)
class GlueAdvice:
    """How glue comes off here, and what is refused."""

    way: GlueWay
    words: str
    minutes: Range
    refused: tuple[tuple[str, str], ...]  # what, why


@dataclass(frozen=True)
class Advice:
    """All ways, best first and refused ones last."""

    ranked: tuple[Ranked, ...]
    glue: GlueAdvice
    changes: tuple[str, ...]  # what would put another way first
    never: tuple[str, ...]
    signs: Signs
    basis: str
    told: tuple[str, ...] = ()  # what was taken for granted because nobody knows

    @property
    def first(self) -> Ranked | None:
        """The way that is proposed; None where all are refused."""
        best = self.ranked[0]
        return None if best.refused else best


def signs_of(case: Case, *, starting: StartingValues) -> Signs:
    """What of a case the table's rows may ask.

    Not knowing is never a good sign: film of unknown age counts as old, glass nobody looked at has lines.
    """
    celsius = case.celsius
    told = {
        "old": case.years is None or case.years > starting["film_brittle_years"],
        "brittle": OldLook.BRITTLE in case.looks,
        "purple": OldLook.PURPLE in case.looks,
        "bubbled": OldLook.BUBBLED in case.looks,
        "two_layers": case.two_layers,
        "cold": celsius is not None and celsius < starting["bag_warm_c"],
        "cold_unknown": celsius is None,
        "no_sun": not case.sun,
        "sun": case.sun,
        "no_night": not case.night,
        "chipped": case.chipped,
        "lines": case.lines is True,
        "lines_unknown": case.lines is None and case.group != "door",
        "not_plain": case.glass is not GlassType.TEMPERED,
    }
    return frozenset(name for name, there in told.items() if there)


def glue_facts(case: Case, table: RemovalTable, *, starting: StartingValues) -> GlueAdvice:
    """The first way with glue that nothing forbids; the pad always may."""
    signs = signs_of(case, starting=starting)
    refused, chosen = [], None
    for row in table.glue:
        why = _glue_refused(row, signs, case.tools)
        if why:
            refused.append((row.words, why))
        elif chosen is None:
            chosen = row
    if chosen is None:
        chosen = next(row for row in table.glue if row.id is GlueWay.PAD)
    return GlueAdvice(chosen.id, chosen.words, Range(*chosen.minutes), tuple(refused))


def _glue_refused(row: GlueRow, signs: Signs, tools: frozenset[Tool]) -> str:
    for refusal in row.refusals:
        if refusal.when <= signs:
            return refusal.say
    return _missing(row.tools - tools)


def _missing(tools: frozenset[Tool]) -> str:
    names = {Tool.GUN: "heat gun", Tool.BAG: "black plastic"}
    return f"Not at hand: {', '.join(sorted(names.get(one, one.value) for one in tools))}." if tools else ""


def advise(
    case: Case, table: RemovalTable, *, own: Sequence[OwnResult] = (), starting: StartingValues, further: bool = True
) -> Advice:
    """The ways for a case, best first.

    Parameters
    ----------
    case, table
        The window, and the decision table.
    own
        The shop's own results.
    starting
        Labour, price of a new back glass, from how many own results on they count.
    further
        Also work out what would change the ranking.
    """
    signs = signs_of(case, starting=starting)
    glue = glue_facts(case, table, starting=starting)
    holding = [row for row in table.changes if row.when <= signs]
    ranked = [_rank(row, case, signs, holding, glue, own, starting) for row in table.ways]
    ranked.sort(key=lambda one: (bool(one.refused), _cost(one, starting)))
    changes = _what_changes(case, ranked[0], table, own, starting) if further else ()
    basis = ranked[0].basis
    return Advice(tuple(ranked), glue, changes, table.never, signs, basis, tuple(_granted(case, signs, starting)))


def _granted(case: Case, signs: Signs, starting: StartingValues) -> Iterator[str]:
    if case.years is None:
        yield f"Nobody knows its age: weighed as over {starting['film_brittle_years']:g} years."
    if "lines_unknown" in signs:
        yield "Nobody has looked for defroster lines or an antenna: weighed as if there were some."
    if case.celsius is None:
        yield "Nobody has read the temperature."


def _rank(
    row: WayRow,
    case: Case,
    signs: Signs,
    holding: Sequence[Change],
    glue: GlueAdvice,
    own: Sequence[OwnResult],
    starting: StartingValues,
) -> Ranked:
    clean, factor, risk = row.clean, 1.0, row.lines if signs & {"lines", "lines_unknown"} else 0.0
    reasons = [row.why]
    for change in holding:
        step = change.clean.get(row.id, 0.0)
        clean += step
        factor *= change.minutes.get(row.id, 1.0)
        risk *= change.lines
        if step:
            reasons.append(f"{change.words[0].upper()}{change.words[1:]}: {'less' if step < 0 else 'more'} clean.")
    clean = min(max(clean, 0.02), 0.98)
    low, high = row.minutes[case.group]
    minutes, timed = Range(low * factor, high * factor), 0
    results = of_way(own, row.id)
    times = [one.minutes for one in results if one.minutes is not None]
    if len(times) >= starting["own_times_from"]:
        minutes, timed = Range(median(times), max(times)), len(times)
        reasons.append(f"Own times, n = {timed}.")
    chance = None
    if len(results) >= starting["own_results_from"]:
        chance = chance_of(sum(one.clean and not one.glue for one in results), len(results))
        clean = chance.share
    # Glue stays where it does not come off clean.
    left = Range(glue.minutes.low * (1 - clean), glue.minutes.high * (1 - clean))
    hour = starting["labour_per_hour"] / 60
    return Ranked(
        way=row.id,
        words=row.words,
        refused=_refused(row, signs, case.tools),
        minutes=minutes,
        wait=Range(*row.wait),
        clean=clean,
        clean_words=_clean_words(clean, starting),
        own=chance,
        own_minutes=timed,
        glue_minutes=left,
        lines_risk=min(risk, 0.9),
        price=Range(round((minutes.low + left.low) * hour), round((minutes.high + left.high) * hour)),
        reasons=tuple(reasons),
        section=row.section,
    )


def _refused(row: WayRow, signs: Signs, tools: frozenset[Tool]) -> str:
    why = [refusal.say for refusal in row.refusals if refusal.when <= signs]
    if missing := _missing(row.tools - tools):
        why.append(missing)
    return " ".join(why)


def _clean_words(clean: float, starting: StartingValues) -> str:
    if clean >= starting["clean_likely_from"]:
        return "likely"
    return "uncertain" if clean >= starting["clean_uncertain_from"] else "unlikely"


def _cost(one: Ranked, starting: StartingValues) -> float:
    """What a way is expected to cost [$]: hands, waiting at a share of them, and a new back glass."""
    hour = starting["labour_per_hour"] / 60
    hands = one.minutes.middle + one.glue_minutes.middle
    waiting = starting["wait_cost_share"] * min(one.wait.middle, starting["wait_counts_min"])
    rework = (1 - one.clean) * starting["unclean_minutes"]
    return hour * (hands + waiting + rework) + one.lines_risk * starting["back_glass_price"]


def _what_changes(
    case: Case, best: Ranked, table: RemovalTable, own: Sequence[OwnResult], starting: StartingValues
) -> tuple[str, ...]:
    """The facts that would put another way first, each changed by itself."""
    tried = [
        ("With sun on the pane" if not case.sun else "Without the sun", replace(case, sun=not case.sun)),
        ("If it may stay overnight" if not case.night else "If it goes today", replace(case, night=not case.night)),
        *_ages(case, starting),
        *(
            (f"With a {name} at hand", replace(case, tools=case.tools | {tool}))
            for tool, name in ((Tool.STEAMER, "steamer"), (Tool.GUN, "heat gun"), (Tool.BAG, "black plastic bag"))
            if tool not in case.tools
        ),
        *(
            (f"Without the {name}", replace(case, tools=case.tools - {tool}))
            for tool, name in ((Tool.STEAMER, "steamer"), (Tool.GUN, "heat gun"))
            if tool in case.tools
        ),
        ("If it turned out brittle", replace(case, looks=case.looks | {OldLook.BRITTLE})),
    ]
    told = []
    for words, other in tried:
        first = advise(other, table, own=own, starting=starting, further=False).ranked[0]
        if first.way is not best.way and not first.refused:
            told.append(f"{words}: {first.words}.")
    return tuple(dict.fromkeys(told))


def _ages(case: Case, starting: StartingValues) -> list[tuple[str, Case]]:
    """Its age on the other side of seven years; both where nobody knows it."""
    limit = int(starting["film_brittle_years"])
    young, old = (
        (f"Under {limit} years", replace(case, years=limit - 2)),
        (
            f"Over {limit} years",
            replace(case, years=limit + 3),
        ),
    )
    if case.years is None:
        return [young, old]
    return [young] if case.years > limit else [old]
