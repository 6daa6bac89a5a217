"""The demo's month: the same from the same seed, and every part of the ledger has something to say."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from elumbra.api.car_view.view import load_car
from elumbra.api.handover.older import freeze_gone
from elumbra.api.handover.operations import handover, paper
from elumbra.api.handover.schemas import PaperName
from elumbra.api.ledger.operations import ledger
from elumbra.api.ledger.schemas import LedgerQuery
from elumbra.api.rack.lists import film_used
from elumbra.car import hold_back, load_look
from elumbra.core.law import VerdictWord
from elumbra.demo import fill_demo
from elumbra.demo_month import fill_month
from elumbra.documents.paper import Paper
from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from elumbra.storage.kept import calls
from elumbra.storage.store import jobs, people
from tests.effort import effort, sample


def filled(path: Path) -> Database:
    database = Database(path)
    database.migrate()
    assert fill_demo(database)
    assert not fill_demo(database)
    fill_month(database)
    fill_month(database)
    return database


def test_the_month_is_the_same_from_the_same_seed_and_says_something_everywhere(tmp_path: Path) -> None:
    told = []
    for name in effort(("one.db",), ("one.db", "two.db")):
        database = filled(tmp_path / name)
        with database.session(write=False) as session:
            told.append(ledger(session, LedgerQuery()))
            used = film_used(session)
        database.close()
    one, two = told[0], told[-1]
    assert [week.used for week in one.film] == [week.used for week in two.film]
    assert [point.read for point in one.readings] == [point.read for point in two.readings]
    assert len(one.cars) == 27
    assert len({line.job_id for line in used.lines}) == 28, "the rack and the ledger speak of the same film"
    parts = (one.waste, one.yields, one.redo.lines, one.readings, one.phases, one.money)
    assert all(len(part) > 3 for part in parts)
    assert len(one.redo.by_person) > 1
    assert max(week.billed for week in one.money) > 0


def test_every_car_that_the_demo_delivered_has_settled_law_and_all_its_papers(tmp_path: Path) -> None:
    database = filled(tmp_path / "shop.db")
    assert freeze_gone(database) == 28
    with database.session(write=False) as session:
        owner = people(session).get("ruth")
        gone = jobs(session).all(status="delivered", order="number")
        assert len({job.number for job in gone}) == 28
        for job in gone:
            found = handover(session, job.id, person=owner)
            lacking = {one.name.value: [lack.words for lack in one.missing] for one in found.papers if not one.ready}
            assert lacking == {}, f"{job.number}: {lacking}"
            car, parts, _ = load_car(session, job.id)
            words = {car.shades[window.id].worst.word for window in car.job.windows if window.film_id}  # type: ignore[union-attr]
            assert words <= {VerdictWord.CLEARS, VerdictWord.CLOSE}, f"{job.number}: {words}"
            assert set(parts.cuts) >= {window.id for window in car.job.windows if window.film_id}
            assert hold_back(load_look(session, car, parts)) == [], job.number
        for job in sample(gone, 4):
            for name in PaperName:
                _, content = paper(session, job.id, name, Paper.LETTER, person=owner)
                assert content.startswith(b"%PDF"), (job.number, name)
        # One went two years ago, and its customer called this week.
        oldest = min(gone, key=lambda job: job.handed_over_on)
        assert (date.fromisoformat(today_iso()) - date.fromisoformat(oldest.handed_over_on)).days == 731
        (call,) = calls(session).all(job_id=oldest.id)
        assert call.bears == "maker"
    database.close()
