"""The ledger, added up. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median, quantiles

from sqlalchemy.orm import Session

from elumbra.api.ledger.schemas import (
    FilmWeek,
    LedgerFileQuery,
    LedgerOut,
    LedgerQuery,
    LedgerTable,
    MoneyWeek,
    ReadPointOut,
    RedoCount,
    RedoLine,
    RedoOutline,
    TimeCar,
    TimePhase,
    WasteReason,
    YieldPoint,
)
from elumbra.car import shop_starting_values
from elumbra.core.bay import PHASE_WORDS, Phase
from elumbra.core.errors import CoreError
from elumbra.core.words import counted
from elumbra.documents.table_csv import table_csv
from elumbra.storage import clock, data_files, sums
from elumbra.storage.records import CutMark, CuttingRecord
from elumbra.storage.store import films, people
from elumbra.storage.sums import FilmMoved, GoneCar, Span

_WEEKS, _MOST_DAYS = 13, 4000
_HUNDRED = 100.0


def _span(query: LedgerQuery) -> Span:
    until = query.until or date.fromisoformat(clock.today_iso())
    since = query.since or until - timedelta(weeks=_WEEKS)
    if since > until or (until - since).days > _MOST_DAYS:
        raise CoreError("Say a first day that is before the last, ten years at most.", fields={"since": "Too far off."})
    return Span(since, until)


def ledger(session: Session, query: LedgerQuery) -> LedgerOut:
    """The ledger over some weeks.

    Raises
    ------
    CoreError
        Days that are no span.
    """
    span = _span(query)
    names = {one.id: one.name for one in films(session).all(removed_too=True)}
    moved = sums.film_moved(session, span)
    cut = sums.cuttings_in(session, span)
    cars = sums.gone_cars(session, span)
    weeks = _film_weeks(moved, span)
    waste, redo = _waste(moved), _redo(session, span, cut)
    return LedgerOut(
        since=span.since,
        until=span.until,
        headline=_headline(weeks, redo),
        film=weeks,
        waste=waste,
        yields=_yields(cut, names),
        redo=redo,
        readings=[
            ReadPointOut(
                day=date.fromisoformat(one.day), job_number=one.job_number, window=one.window,
                film=names.get(one.film_id, one.film_id), lot=one.lot, predicted=one.predicted, pm=one.pm,
                read=one.read,
            )
            for one in sums.readings_in(session, span)
        ],
        cars=[
            TimeCar(day=date.fromisoformat(one.day), job_number=one.job_number, planned=one.planned, worked=one.worked)
            for one in cars
            if one.worked
        ],
        phases=_phases(sums.times_in(session, span)),
        money=_money(session, cars, moved, span),
    )  # fmt: skip


def _monday(day: date) -> date:
    return day - timedelta(days=day.weekday())


def _all_weeks(span: Span) -> list[date]:
    first, last = _monday(span.since), _monday(span.until)
    return [first + timedelta(weeks=i) for i in range((last - first).days // 7 + 1)]


@dataclass
class _Week:
    bought: float = 0.0
    used: float = 0.0
    waste: float = 0.0
    cost: float = 0.0


def _film_weeks(moved: Iterable[FilmMoved], span: Span) -> list[FilmWeek]:
    found = {week: _Week() for week in _all_weeks(span)}
    for one in moved:
        week = found[_monday(date.fromisoformat(one.day))]
        if one.kind == "received" and not one.note.startswith("off "):
            week.bought += one.m2
        elif one.kind == "used":
            week.used -= one.m2
        elif one.kind == "waste":
            week.waste -= one.m2
    return [
        FilmWeek(week=week, bought=round(one.bought, 3), used=round(one.used, 3), waste=round(one.waste, 3))
        for week, one in found.items()
    ]


def _reason(note: str) -> str:
    """Why film was wasted, from what was noted; what is cut off beside the pieces has no reason of its own."""
    _, colon, why = note.partition(": ")
    return why.split(":")[0].strip() if colon and why.strip() else "beside the pieces"


def _waste(moved: Iterable[FilmMoved]) -> list[WasteReason]:
    found: dict[str, list[float]] = defaultdict(lambda: [0.0, 0.0])
    for one in moved:
        if one.kind == "waste":
            kept = found[_reason(one.note)]
            kept[0] -= one.m2
            kept[1] -= one.dollars
    lines = [WasteReason(reason=why, m2=round(m2, 3), dollars=round(cost, 2)) for why, (m2, cost) in found.items()]
    return sorted((one for one in lines if one.m2 > 0), key=lambda one: -one.m2)


def _yields(cut: Sequence[tuple[int, CuttingRecord]], names: Mapping[str, str]) -> list[YieldPoint]:
    points = []
    for number, record in cut:
        for plan in record.content.get("plans", ()):
            bound = float(plan["bound"])
            over = _HUNDRED * (float(plan["new_film"]) / bound - 1) if bound > 0 else None
            points.append(
                YieldPoint(
                    day=date.fromisoformat(record.on_day), job_number=number,
                    film=names.get(plan["film_id"], plan["film_id"]), yield_percent=float(plan["yield_percent"]),
                    over_bound_percent=None if over is None else round(max(0.0, over), 2),
                    proven=bool(plan["proven"]),
                )
            )  # fmt: skip
    return points


def _redo(session: Session, span: Span, cut: Sequence[tuple[int, CuttingRecord]]) -> RedoOutline:
    """Pieces cut again: seen at Look, or gone wrong in the bay."""
    steps = data_files.step_book()
    events = sums.redone(session, span)
    values = {event.id: _value(text) for event, text, _, _ in events}
    undone = {str(values[event.id].get("event", "")) for event, _, _, _ in events if event.kind == "undo"}
    spoilt = [
        (event, values[event.id], window, number)
        for event, _, window, number in events
        if event.kind == "wrong" and values[event.id].get("spoilt") and event.id not in undone
    ]
    who = sums.workers(session, list({window.id for _, _, window, _ in spoilt}))
    persons = {one.id: one.name for one in people(session).all(removed_too=True)}
    lots = {mark.window_id: mark.lot for _, record in cut for mark in _all_marks(record)}
    lines = []
    for event, value, window, number in spoilt:
        wrong = steps.wrongs.get(str(value.get("what", "")))
        seen = str(value.get("note", "")).removeprefix("seen at Look: ") if value.get("flaw") else ""
        step = str(value.get("step", "")).partition("~")[0].partition("#")[0]
        known = steps.steps.get(step)
        worked = who.get(window.id) or [event.person_id]
        lines.append(
            RedoLine(
                day=event.happened_at.date(), job_number=number, window=window.label,
                window_kind=str(window.facts.get("kind", "")).replace("_", " "),
                why=seen or (wrong.words.lower() if wrong else "something else"),
                step="Look" if value.get("flaw") else PHASE_WORDS[known.phase] if known else "not said",
                lot=lots.get(window.id, ""), person=persons.get(worked[0], worked[0]),
            )
        )  # fmt: skip
    return RedoOutline(
        lines=lines,
        by_flaw=_counted(one.why for one in lines),
        by_kind=_counted(one.window_kind for one in lines),
        by_step=_counted(one.step for one in lines),
        by_person=_counted(one.person for one in lines),
        by_lot=_counted(one.lot or "not on record" for one in lines),
        pieces_cut=sum(len(_all_marks(record)) for _, record in cut),
    )


def _all_marks(record: CuttingRecord) -> list[CutMark]:
    """What was cut then, what was cut again since among it."""
    return [CutMark(**one) for one in record.content.get("windows", ())]


def _value(text: str) -> dict[str, object]:
    try:
        value = json.loads(text) if text else {}
    except ValueError:
        return {}
    return value if isinstance(value, dict) else {}


def _counted(names: Iterable[str]) -> list[RedoCount]:
    return [RedoCount(name=name, number=number) for name, number in Counter(names).most_common()]


def _phases(times: Iterable[tuple[str, str, float]]) -> list[TimePhase]:
    found: dict[str, list[float]] = defaultdict(list)
    steps = data_files.step_book().steps
    for kind, what, minutes in times:
        how, _, name = what.partition(":")
        phase = name if how == "phase" else (steps[name].phase.value if name in steps else "")
        if phase in _PHASES:
            where = f", {kind.replace('_', ' ')}" if kind else ""
            found[f"{PHASE_WORDS[Phase(phase)]}{where}"].append(minutes)
    lines = [
        TimePhase(what=what, number=len(all_of), median=round(median(all_of), 1), p90=round(_p90(all_of), 1))
        for what, all_of in found.items()
    ]
    return sorted(lines, key=lambda one: -one.median)


_PHASES = frozenset(Phase)


def _p90(values: Sequence[float]) -> float:
    return quantiles(values, n=10, method="inclusive")[8] if len(values) > 1 else values[0]


def _money(session: Session, cars: Sequence[GoneCar], moved: Iterable[FilmMoved], span: Span) -> list[MoneyWeek]:
    accepted = sums.accepted_money(session, [one.job_id for one in cars])
    hour = shop_starting_values(session)["labour_per_hour"]
    billed: dict[date, float] = defaultdict(float)
    labour: dict[date, float] = defaultdict(float)
    film: dict[date, float] = defaultdict(float)
    for one in cars:
        week = _monday(date.fromisoformat(one.day))
        billed[week] += accepted.get(one.job_id, 0) / _HUNDRED
        labour[week] += one.worked / 60 * hour
    for move in moved:
        if move.kind in ("used", "waste"):
            film[_monday(date.fromisoformat(move.day))] -= move.dollars
    return [
        MoneyWeek(
            week=week, billed=round(billed[week], 2), film=round(film[week], 2), labour=round(labour[week], 2)
        )
        for week in _all_weeks(span)
    ]  # fmt: skip


def _headline(weeks: Sequence[FilmWeek], redo: RedoOutline) -> str:
    used, waste = sum(one.used for one in weeks), sum(one.waste for one in weeks)
    if not used + waste:
        return "No film was cut in these weeks"
    share = _HUNDRED * waste / (used + waste)
    again = f"; {counted(len(redo.lines), 'piece')} cut again" if redo.lines else "; nothing cut again"
    return f"{share:.0f} % of the film cut was waste{again}"


def as_csv(session: Session, query: LedgerFileQuery) -> tuple[str, bytes]:
    """One table of the ledger: a name for the file, and the CSV."""
    found = ledger(session, query)
    columns, rows = _TABLES[query.table](found)
    return f"{query.table.value} {found.since} to {found.until}", table_csv(columns, rows)


_Table = tuple[Sequence[str], Sequence[Sequence[str]]]


def _film_table(found: LedgerOut) -> _Table:
    return ("Week", "Bought m2", "Used m2", "Waste m2"), [
        [str(one.week), f"{one.bought:.3f}", f"{one.used:.3f}", f"{one.waste:.3f}"] for one in found.film
    ]


def _waste_table(found: LedgerOut) -> _Table:
    return ("Why", "m2", "$"), [[one.reason, f"{one.m2:.3f}", f"{one.dollars:.2f}"] for one in found.waste]


def _yield_table(found: LedgerOut) -> _Table:
    return ("Day", "Job", "Film", "Yield %", "Over the bound %", "Proven"), [
        [
            str(one.day), str(one.job_number), one.film, f"{one.yield_percent:.1f}",
            "" if one.over_bound_percent is None else f"{one.over_bound_percent:.1f}", "yes" if one.proven else "no",
        ]
        for one in found.yields
    ]  # fmt: skip


def _redo_table(found: LedgerOut) -> _Table:
    return ("Day", "Job", "Window", "Kind", "Why", "Step", "Lot", "Worked on by"), [
        [str(one.day), str(one.job_number), one.window, one.window_kind, one.why, one.step, one.lot, one.person]
        for one in found.redo.lines
    ]


def _reading_table(found: LedgerOut) -> _Table:
    return ("Day", "Job", "Window", "Film", "Lot", "Foretold %", "± points", "Read %"), [
        [
            str(one.day), str(one.job_number), one.window, one.film, one.lot, f"{one.predicted:.2f}", f"{one.pm:.2f}",
            f"{one.read:.2f}",
        ]
        for one in found.readings
    ]  # fmt: skip


def _time_table(found: LedgerOut) -> _Table:
    return ("Day", "Job", "Planned min", "Worked min"), [
        [str(one.day), str(one.job_number), f"{one.planned:.1f}", f"{one.worked:.1f}"] for one in found.cars
    ]


def _money_table(found: LedgerOut) -> _Table:
    return ("Week", "Billed $", "Film $", "Labour $"), [
        [str(one.week), f"{one.billed:.2f}", f"{one.film:.2f}", f"{one.labour:.2f}"] for one in found.money
    ]


_TABLES = {
    LedgerTable.FILM: _film_table,
    LedgerTable.WASTE: _waste_table,
    LedgerTable.YIELD: _yield_table,
    LedgerTable.REDO: _redo_table,
    LedgerTable.READINGS: _reading_table,
    LedgerTable.TIME: _time_table,
    LedgerTable.MONEY: _money_table,
}
