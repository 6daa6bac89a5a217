"""The demo's month: the same from the same seed, and every part of the ledger has something to say."""

from __future__ import annotations

from pathlib import Path

from elumbra.api.ledger.operations import ledger
from elumbra.api.ledger.schemas import LedgerQuery
from elumbra.api.rack.lists import film_used
from elumbra.demo import fill_demo
from elumbra.demo_month import fill_month
from elumbra.storage.database import Database
from tests.effort import effort


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
    assert len(one.cars) == 26
    assert len({line.job_id for line in used.lines}) == 26, "the rack and the ledger speak of the same film"
    parts = (one.waste, one.yields, one.redo.lines, one.readings, one.phases, one.money)
    assert all(len(part) > 3 for part in parts)
    assert len(one.redo.by_person) > 1
    assert max(week.billed for week in one.money) > 0
