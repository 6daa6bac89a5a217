"""Lessons, runs, replays and permissions of the practice glass. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from dataclasses import asdict, dataclass, replace
from secrets import randbelow
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import LEAD
from elumbra.api.car_view.view import load_car
from elumbra.api.practice.schemas import (
    MOST_STEPS_AT_ONCE,
    BeginBody,
    FrameOut,
    PracticeFile,
    PracticeReplayOut,
    PracticeRunOut,
    ScoreOut,
    StrokesBody,
)
from elumbra.api.practice.view import DAMAGES, frame_out, grid, hands_before, lie_out
from elumbra.car import load_shop, shop_starting_values
from elumbra.car.bay import shrink_preferred
from elumbra.car.practice import (
    STAGE,
    Parts,
    Playing,
    Setup,
    board_for,
    lesson_setup,
    pane_setup,
    rules_now,
    setup_from,
    window_part_of,
)
from elumbra.core.errors import CoreError
from elumbra.core.practice import (
    COLUMNS,
    ROWS,
    Run,
    School,
    score_of,
    shown,
)
from elumbra.core.shrink import Ask, Piece, school_of
from elumbra.documents.shelf import pane_part
from elumbra.storage import data_files, shelf
from elumbra.storage.practice import add_strokes, begin_run, end_run, practice_run, robot_run, strokes_of
from elumbra.storage.practice_records import PracticeRecord
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people, shelf_panes, windows

_SEEDS = 2**31


@dataclass(frozen=True)
class Opened:
    """A run with its strokes, as the database has them."""

    record: PracticeRecord
    setup: Setup
    parts: Parts

    def playing(self) -> AbstractContextManager[Playing]:
        """The run as far as it went."""
        return STAGE.of(self.record.id, self.setup, self.record.seed, self.parts)


def opened(session: Session, run_id: str, person: PersonRecord, *, since: int = 0) -> Opened:
    """A run that somebody may see: his own, and for the lead anybody's.

    Parameters
    ----------
    session, run_id, person
        Which run, and who asks.
    since
        The step that is known already: only strokes after it are read.

    Raises
    ------
    NotFoundError
        There is none.
    ApiError
        It is somebody else's.
    """
    record = practice_run(session, run_id)
    if record.person_id != person.id and person.role not in LEAD:
        raise ApiError("not_your_role", "This run is somebody else’s. Only he and the lead see it.")
    return Opened(record, setup_from(record.setup), strokes_of(session, run_id, since=since))


def stuck_because(record: PracticeRecord) -> str:
    """Why a run cannot be played; empty where it can."""
    if record.rules == rules_now():
        return ""
    return (
        f"This run was made by other rules ({record.rules}; now {rules_now()}): its score stands, and it is not played "
        "by rules that it was not made with. Begin a new one."
    )


# ---- To begin.


def setup_for(session: Session, body: BeginBody) -> tuple[Setup, str]:
    """The setup that is asked for, and the key of its lesson.

    Raises
    ------
    ApiError, NotFoundError, CoreError
        Nothing or several are asked for, or there is none such, or it cannot be practised on.
    """
    asked = [one for one in (body.lesson, body.window_id, body.pane_id) if one is not None]
    if len(asked) != 1:
        raise ApiError("invalid", "Name one pane to practise on: a lesson, a window of a job, or a pane of the shelf.")
    starting = shop_starting_values(session)
    if body.lesson is not None:
        found = next((one for one in data_files.lessons() if one.key == body.lesson), None)
        if found is None:
            raise ApiError("not_found", f"There is no lesson “{body.lesson}”.")
        return lesson_setup(found, starting), found.key
    film, limit = _film(session, body.film_id)
    if body.pane_id is not None:
        pane = shelf_panes(session).get_present(body.pane_id)
        part, mirrored = pane_part(pane.content), False
        if part.same_as is not None:
            siblings = shelf.panes_of(session, [pane.car_id])[pane.car_id]
            source = next((one for one in siblings if one.ordinal == part.same_as), None)
            if source is None:
                raise CoreError("The pane that this one mirrors is gone from the shelf. Measure it anew.")
            part, mirrored = replace(pane_part(source.content), label=part.label), True
        setup = pane_setup(
            part, starting, title=part.label, mirrored=mirrored, film=film, limit=limit, school=School.DRY
        )  # fmt: skip
        return _as_advised(session, setup, body), ""
    return _as_advised(session, _window_setup(session, body), body), ""


def _as_advised(session: Session, setup: Setup, body: BeginBody) -> Setup:
    """The school that was asked for; else the one that Heat advises for this pane and film, or the shop prefers."""
    if body.school is not None:
        return replace(setup, school=body.school)
    piece = Piece(board_for(setup).word, pane_part(setup.pane).kind)
    advice = {one.ask: one.answer for one in school_of(piece, preferred=shrink_preferred(session))}
    if advice[Ask.HOW] == "snap":
        return replace(setup, school=School.SNAP)
    return replace(setup, school=School.WET if advice.get(Ask.WATER) == "wet" else School.DRY)


def _film(session: Session, film_id: str | None) -> tuple[str, float]:
    shop = load_shop(session)
    usual = shop.starting["film_shrink_limit"]
    if film_id is None:
        return f"a film that shrinks by {100 * usual:g} %", usual
    film = next((one for one in shop.on_file if one.id == film_id), None)
    if film is None:
        raise ApiError("not_found", "There is no such film on file.")
    return film.name, film.shrink_limit if film.shrink_limit is not None else usual


def _window_setup(session: Session, body: BeginBody) -> Setup:
    record = windows(session).get_present(str(body.window_id))
    car, _, _ = load_car(session, record.job_id)
    window = car.window(record.id)
    if window.is_strip:
        raise CoreError("A sun strip is laid without shrinking. Practise on a whole pane.")
    film, limit = _film(session, body.film_id or window.film_id)
    return pane_setup(
        window_part_of(window), car.starting, title=window.label, mirrored=window.mirrored, film=film, limit=limit,
        school=School.DRY,
    )  # fmt: skip


def new_run(setup: Setup, lesson: str, *, person_id: str, seed: int | None) -> PracticeRecord:
    """A run that begins now, its pane made sure of.

    Raises
    ------
    CoreError
        No film lies on that pane.
    """
    board_for(setup)
    return PracticeRecord(
        person_id=person_id, by="hand", lesson=lesson, title=setup.title, setup=setup.to_plain(),
        setup_digest=setup.digest, rules=rules_now(), seed=randbelow(_SEEDS) if seed is None else seed,
    )  # fmt: skip


# ---- To play.


def taken(
    one: Opened, body: StrokesBody, person: PersonRecord, keep: Callable[[Callable[[Session], None]], None]
) -> FrameOut:
    """Strokes played and kept, and what is seen then; where the run stands elsewhere, that.

    Raises
    ------
    ApiError
        It is not his to play, or plays by other rules.
    StrokeError
        No strokes.
    """
    if one.record.person_id != person.id or one.record.by != "hand":
        raise ApiError("not_your_role", "Only who began this run plays it.")
    if why := stuck_because(one.record):
        raise CoreError(why)
    if body.until - body.after > MOST_STEPS_AT_ONCE:
        raise CoreError(
            f"A screen plays at most {MOST_STEPS_AT_ONCE} steps at once: it slept, or its clock jumped. Go on here."
        )
    with one.playing() as playing:
        run = playing.run
        if run.step < one.record.steps:
            raise ApiError("busy", "Others took the place of this run meanwhile. Send it again.")
        if body.after != run.step or run.over:
            return frame_out(run, school=one.setup.school, taken=False)
        run = playing.play(body.strokes, until=body.until)

        def kept(session: Session) -> None:
            if run.step > body.after:
                add_strokes(session, one.record.id, after=body.after, until=run.step, rows=body.strokes)
            if run.over:
                score = score_of(run)
                end_run(session, one.record.id, points=score.points, passed=score.passed, score=asdict(score))

        keep(kept)
        playing.keep(run)
        return frame_out(run, school=one.setup.school)


def run_out(one: Opened, person: PersonRecord, *, name: str) -> PracticeRunOut:
    """A run as it stands."""
    record, setup = one.record, one.setup
    board = board_for(setup)
    stuck = stuck_because(record)
    frame = None
    if not stuck:
        with one.playing() as playing:
            frame = frame_out(playing.run, school=setup.school)
    teaches = next((lesson.teaches for lesson in data_files.lessons() if lesson.key == record.lesson), "")
    return PracticeRunOut(
        id=record.id, title=record.title, lesson=record.lesson, by=record.by,  # type: ignore[arg-type]
        mine=record.person_id == person.id, person=name, film=setup.film, limit_percent=round(100 * setup.limit, 2),
        school=setup.school, word=board.word, seed=record.seed, rules=record.rules, stuck=stuck,
        minutes=round(next(iter(board.lies.values())).plan.minutes, 1), columns=COLUMNS, rows=ROWS,
        lies=[lie_out(lie) for lie in board.lies.values()],
        damages=[(damage.name or "").lower() for damage in DAMAGES], teaches=teaches,
        score=_score(record), frame=frame, strokes=sum(len(rows) for _, _, rows in one.parts),
    )  # fmt: skip


def _score(record: PracticeRecord) -> ScoreOut | None:
    if not record.over:
        return None
    said = dict(record.score)
    return ScoreOut(
        points=said["points"], passed=said["passed"], headline=said["headline"],
        flat_percent=round(100 * said["flat_share"], 1), parts=said["parts"],
    )  # fmt: skip


def name_of(session: Session, person_id: str) -> str:
    """Somebody's name, also of one who left."""
    found = people(session).find(person_id)
    return found.name if found else "somebody who left"


# ---- To look back.


def replayed(one: Opened, step: int) -> PracticeReplayOut:
    """A run at a step.

    Raises
    ------
    CoreError
        It was made by other rules.
    """
    if why := stuck_because(one.record):
        raise CoreError(why)
    with one.playing() as playing:
        run = STAGE.at(playing, one.parts, step)
    trace = np.zeros((ROWS, COLUMNS)) if run.trace is None else run.trace / 2
    return PracticeReplayOut(
        frame=frame_out(run, school=one.setup.school), trace=grid(np.clip(trace, 0, 255)),
        hands=hands_before(one.parts, run.step),
    )  # fmt: skip


def robot_record(one: Opened) -> tuple[PracticeRecord, list[list[Any]], Run]:
    """The robot on the same pane, film and day."""
    if why := stuck_because(one.record):
        raise CoreError(why)
    done = shown(board_for(one.setup), seed=one.record.seed, school=one.setup.school)
    record = replace(
        new_run(one.setup, one.record.lesson, person_id=one.record.person_id, seed=one.record.seed), by="robot"
    )
    return record, [stroke.row() for stroke in done.strokes], done.run


def keep_whole(session: Session, record: PracticeRecord, rows: Sequence[Sequence[Any]], run: Run) -> str:
    """A run that is kept as a whole, with its score."""
    begin_run(session, record)
    if run.step:
        add_strokes(session, record.id, after=0, until=run.step, rows=rows)
    if run.over:
        score = score_of(run)
        end_run(session, record.id, points=score.points, passed=score.passed, score=asdict(score))
    return record.id


def shown_before(session: Session, one: Opened) -> str | None:
    """The robot's run on the same, where it was shown before."""
    found = robot_run(session, one.record.setup_digest, rules=rules_now(), seed=one.record.seed)
    return found.id if found is not None and found.person_id == one.record.person_id else None


def file_of(one: Opened) -> bytes:
    """A run as a file."""
    part = PracticeFile(
        rules=one.record.rules, title=one.record.title, setup=dict(one.record.setup), seed=one.record.seed,
        steps=one.record.steps, strokes=[list(row) for _, _, rows in one.parts for row in rows],
    )  # fmt: skip
    return (json.dumps(part.model_dump(mode="json"), separators=(",", ":"), ensure_ascii=False) + "\n").encode()


def read_in(part: PracticeFile, *, person_id: str) -> tuple[PracticeRecord, Run]:
    """A run out of a file, played by its own rules or refused.

    Raises
    ------
    CoreError
        Other rules, a pane that cannot be, or strokes that no hand makes.
    """
    setup = setup_from(part.setup)
    record = replace(
        new_run(setup, "", person_id=person_id, seed=part.seed), by="file", title=part.title or setup.title
    )
    if part.rules != record.rules:
        raise CoreError(stuck_because(replace(record, rules=part.rules)))
    with STAGE.of(record.id, setup, part.seed, [(0, part.steps, part.strokes)]) as playing:
        return record, playing.run
