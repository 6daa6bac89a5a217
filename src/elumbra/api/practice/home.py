"""The practice glass before a run: lessons, today's, one's record, and who may shrink what alone."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from elumbra.api.base.roles import LEAD
from elumbra.api.practice.schemas import (
    AloneBody,
    LearnerOut,
    LessonOut,
    PracticeOut,
    TodayBody,
    TodayOut,
)
from elumbra.api.practice.view import best_out, brief, outline_out
from elumbra.car import shop_starting_values
from elumbra.car.practice import board_for, lesson_setup
from elumbra.core.shrink import ShrinkWord
from elumbra.storage import data_files
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.practice import Tally, recent_runs, tallies
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import jobs, people, windows

TODAY, ALONE = "practice_today", "practice_alone"
_RECENT = 12
_PASSES = 2
"""Passed so often, a lesson's kind of glass counts as shown."""
_RISING = (ShrinkWord.SNAP, ShrinkWord.CARD, ShrinkWord.HARD)

SIMPLIFIED = (
    "No warmth runs sideways in film or glass.",
    "Film that is too long in one place stays there: it does not slide to its neighbour.",
    "The jet is round and stands square on the glass.",
    "Drying, minutes in a shop, takes seconds here.",
    "Fingers are an estimate, drawn where too much film is left.",
    "All temperatures and rates are our starting values: real film differs, and so does each gun.",
)
"""What the model leaves out, said where it is used."""


def home(session: Session, person: PersonRecord) -> PracticeOut:
    """All of it for one person."""
    done = tallies(session)
    lessons = _lessons(session, {key: one for (who, key), one in done.items() if who == person.id})
    alone, alone_version = kept(session, ALONE, {})
    today, today_version = kept(session, TODAY, {})
    passed = sum(lesson.mine.passes > 0 for lesson in lessons)
    next_one = next((lesson for lesson in lessons if not lesson.mine.passes), None)
    headline = f"Next: {next_one.title}" if next_one else "All six lessons passed"
    return PracticeOut(
        headline=headline if passed or next_one is None else f"Begin with: {lessons[0].title}",
        lessons=lessons,
        today=_today(session, today),
        today_version=today_version,
        runs=[brief(record) for record in recent_runs(session, person.id, most=_RECENT)],
        alone=_words(alone.get(person.id, [])),
        learners=_learners(session, lessons, done, alone) if person.role in LEAD else [],
        alone_version=alone_version,
        simplified=list(SIMPLIFIED),
    )


def _lessons(session: Session, mine: Mapping[str, Tally]) -> list[LessonOut]:
    starting = shop_starting_values(session)
    found = []
    for lesson in data_files.lessons():
        board = board_for(lesson_setup(lesson, starting))
        lie = next(iter(board.lies.values()))
        found.append(
            LessonOut(
                key=lesson.key, title=lesson.title, teaches=lesson.teaches, film=lesson.film, school=lesson.school,
                word=board.word, percent=round(100 * float(lie.required[lie.on_glass].max()), 2),
                outline=outline_out(lie.drawn(lie.ring)), mine=best_out(mine.get(lesson.key)),
            )
        )  # fmt: skip
    return found


def _today(session: Session, said: Mapping[str, str]) -> TodayOut | None:
    window = windows(session).find(said["window_id"]) if said.get("window_id") else None
    if window is None or window.removed:
        return None
    job = jobs(session).get(window.job_id)
    return TodayOut(
        window_id=window.id, title=f"{window.label}, {job.title}", note=said.get("note", ""), job_id=window.job_id
    )


def _words(said: list[str]) -> list[ShrinkWord]:
    return [word for word in _RISING if word.value in said]


def _learners(
    session: Session, lessons: list[LessonOut], done: Mapping[tuple[str, str], Tally], alone: Mapping[str, list[str]]
) -> list[LearnerOut]:
    """Everybody at the bench with what he passed."""
    of_word = {lesson.key: lesson.word for lesson in lessons}
    found = []
    for person in people(session).all():
        own = {key: one for (who, key), one in done.items() if who == person.id and key in of_word}
        shown = {of_word[key] for key, one in own.items() if one.passes >= _PASSES}
        found.append(
            LearnerOut(
                person_id=person.id, name=person.name, alone=_words(alone.get(person.id, [])),
                shown=[word for word in _RISING if word in shown],
                lessons={key: best_out(one) for key, one in own.items()},
            )
        )  # fmt: skip
    return found


def set_today(session: Session, body: TodayBody, *, person_id: str) -> str:
    """Set today's lesson, or take it back.

    Raises
    ------
    NotFoundError
        There is no such window.
    StaleWriteError
        Somebody set another meanwhile.
    """
    if body.window_id is not None:
        windows(session).get_present(body.window_id)
    value = {} if body.window_id is None else {"window_id": body.window_id, "note": body.note}
    return keep(session, TODAY, value, version=body.version, person_id=person_id)


def set_alone(session: Session, who: str, body: AloneBody, *, person_id: str) -> str:
    """Say what somebody may shrink alone.

    Raises
    ------
    NotFoundError
        There is nobody such.
    StaleWriteError
        Somebody said so meanwhile.
    """
    people(session).get_present(who)
    value, _ = kept(session, ALONE, {})
    words = [word.value for word in _RISING if word in body.words]
    return keep(session, ALONE, {**value, who: words}, version=body.version, person_id=person_id)
