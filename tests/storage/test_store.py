"""Records, transactions, audit, ledger, events, tasks."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given
from hypothesis import strategies as st
from sqlalchemy import select, text
from sqlalchemy.exc import DatabaseError, IntegrityError

from elumbra.core.light import InstalledReading, add_up
from elumbra.core.units import format_inches
from elumbra.storage import ledger, tasks
from elumbra.storage.database import Database
from elumbra.storage.declared import Base, new_id, now
from elumbra.storage.ledger import MovementKind, StepEvent, counts
from elumbra.storage.readings import lot_sums
from elumbra.storage.records import (
    FilmRecord,
    InstalledReadingRecord,
    JobRecord,
    PersonRecord,
    ShopValueRecord,
    StockRecord,
    WindowRecord,
)
from elumbra.storage.store import (
    NotFoundError,
    StaleWriteError,
    films,
    installed_readings,
    jobs,
    people,
    shop_values,
    stock,
    windows,
)
from elumbra.storage.tables import AuditRow
from tests.catalogue.panes import starting
from tests.effort import examples

TENTHS = st.integers(0, 800).map(lambda tenths: tenths / 10)  # percent, as a meter shows it
ADA = PersonRecord(id="ada", name="Ada", role="lead")


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    made = Database(tmp_path / "shop.db")
    made.migrate()
    yield made
    made.close()


def test_file_has_the_settings_that_keep_data(database: Database) -> None:
    with database.session(write=False) as session:
        found = {
            name: session.execute(text(f"PRAGMA {name}")).scalar()
            for name in ("journal_mode", "foreign_keys", "synchronous", "busy_timeout")
        }
    assert found == {"journal_mode": "wal", "foreign_keys": 1, "synchronous": 2, "busy_timeout": 5000}


def test_migrations_make_exactly_the_tables_of_the_code(database: Database) -> None:
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    with database.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    database.migrate()


def test_error_rolls_everything_back(database: Database) -> None:
    with pytest.raises(RuntimeError), database.session(write=True) as session:
        people(session).create(ADA, person_id="test")
        raise RuntimeError
    with database.session(write=False) as session:
        assert people(session).all() == []
        assert session.scalars(select(AuditRow)).all() == []


def test_stale_write_is_refused_with_what_changed(database: Database) -> None:
    with database.session(write=True) as session:
        store = people(session)
        ada = store.create(ADA, person_id="test")
        second = store.update(replace(ada, name="Ada L."), person_id="bea")
        store.update(replace(second, role="installer"), person_id="cy")
        with pytest.raises(StaleWriteError, match="Someone changed name, role of this person") as refusal:
            store.update(replace(ada, name="Augusta"), person_id="test")
        assert {(c.field, c.now, c.person_id) for c in refusal.value.changed} == {
            ("name", "Ada L.", "bea"),
            ("role", "installer", "cy"),
        }
        assert store.get("ada").name == "Ada L."


def test_same_values_make_no_new_version(database: Database) -> None:
    with database.session(write=True) as session:
        store = people(session)
        ada = store.create(ADA, person_id="test")
        assert store.update(ada, person_id="test").version == 1


def test_removed_records_are_out_of_sight_and_come_back(database: Database) -> None:
    with database.session(write=True) as session:
        store = shop_values(session)
        store.create(ShopValueRecord(id="blank_play_mm", value=3.0), person_id="test")
        store.remove("blank_play_mm", version=1, person_id="test")
        assert store.all() == []
        assert store.get("blank_play_mm").removed
        store.restore("blank_play_mm", version=2, person_id="test")
        assert [record.value for record in store.all()] == [3.0]
        actions = [row.action for row in session.scalars(select(AuditRow).order_by(AuditRow.id))]
        assert actions == ["created", "removed", "restored"]


@pytest.mark.parametrize("statement", ["UPDATE audit SET action = 'x'", "DELETE FROM audit"])
def test_audit_trail_is_append_only(database: Database, statement: str) -> None:
    with database.session(write=True) as session:
        people(session).create(ADA, person_id="test")
    with pytest.raises(DatabaseError, match="append-only"), database.session(write=True) as session:
        session.execute(text(statement))


def test_unknown_record_and_broken_reference(database: Database) -> None:
    with pytest.raises(NotFoundError, match="no person “x”"), database.session(write=False) as session:
        people(session).get("x")
    sizes = {
        f"{name}_{part}": value for name in ("width", "full_length") for part, value in (("typed", "20"), ("mm", 508.0))
    }
    roll = StockRecord(film_id="gone", kind="roll", label="r", price=1, **sizes)
    with pytest.raises(IntegrityError), database.session(write=True) as session:
        stock(session).create(roll, person_id="test")


JOB = JobRecord(number=1, title="t", vehicle_label="v", body="sedan", facts={"states": ["TX"]})


def job_in(database: Database, **over: Any) -> str:
    with database.session(write=True) as session:
        return jobs(session).create(replace(JOB, id=new_id(), **over), person_id="test").id


def ask(database: Database, name: str, *, job: str | None = None) -> str:
    with database.session(write=True) as session:
        return tasks.enqueue(session, kind="plan", job_id=job, input_hash=name, content="{}").id


def test_queue_gives_the_same_input_the_same_solve_and_oldest_first(database: Database) -> None:
    first, second = ask(database, "a"), ask(database, "b")
    assert ask(database, "a") == first
    with database.session(write=True) as session:
        record = tasks.next_queued(session)
        assert record is not None
        assert record.id in (first, second)
        assert tasks.get(session, record.id).status == "running"


def test_plan_is_found_by_what_the_job_says_now(database: Database) -> None:
    """Film A, film B, back to A: the sheet that is printed is the one of A, though B was worked out last."""
    job_id = job_in(database)
    for name in ("a", "b"):
        solve_id = ask(database, name, job=job_id)
        with database.session(write=True) as session:
            tasks.next_queued(session)
            tasks.record_step(session, solve_id, result=name, summary={"unplaced": [name]}, finished=True)
    with database.session(write=False) as session:
        found = [tasks.finished_for(session, "plan", job_id, name) for name in ("a", "b", "c")]
        assert [record and record.result for record in found] == ["a", "b", None]
        assert tasks.latest_summaries(session, "plan", [job_id]) == {job_id: {"unplaced": ["b"]}}


def test_queue_is_bounded(database: Database) -> None:
    for i in range(tasks.LONGEST_QUEUE):
        ask(database, str(i))
    with pytest.raises(tasks.QueueFullError, match="20 layouts are waiting already"):
        ask(database, "one more")


def test_cancelled_solve_takes_no_more_steps_and_keeps_its_best(database: Database) -> None:
    solve_id = ask(database, "a")
    with database.session(write=True) as session:
        tasks.next_queued(session)
        tasks.record_step(session, solve_id, result="first", finished=False)
        tasks.finish(session, solve_id, status="cancelled")
        tasks.record_step(session, solve_id, result="late", finished=True)
    with database.session(write=False) as session:
        record = tasks.get(session, solve_id)
    assert (record.status, record.result, record.progress) == ("cancelled", "first", 1)


def test_a_stopped_task_is_done_if_it_has_found_something(database: Database) -> None:
    found, nothing = ask(database, "a"), ask(database, "b")
    with database.session(write=True) as session:
        tasks.next_queued(session)
        tasks.record_step(session, found, result="first", finished=False)
        for task_id in (found, nothing):
            tasks.stop(session, task_id, otherwise="cancelled")
    with database.session(write=False) as session:
        assert [tasks.get(session, task_id).status for task_id in (found, nothing)] == ["done", "cancelled"]


def test_interrupted_solve_starts_again(database: Database) -> None:
    solve_id = ask(database, "a")
    with database.session(write=True) as session:
        tasks.next_queued(session)
        tasks.requeue_interrupted(session)
        assert tasks.get(session, solve_id).status == "queued"


def test_task_that_ended_its_process_twice_has_failed(database: Database) -> None:
    task_id = ask(database, "a")
    for _ in range(2):
        with database.session(write=True) as session:
            assert tasks.next_queued(session) is not None
        with database.session(write=True) as session:
            tasks.requeue_interrupted(session)
    with database.session(write=False) as session:
        record = tasks.get(session, task_id)
    assert record.status == "failed"
    assert "stopped twice" in record.error


def test_the_newest_plan_of_an_open_job_is_never_forgotten(database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    """Whatever the clock says, and however many tasks come after."""
    monkeypatch.setattr(tasks, "KEPT", 3)
    open_job, done_job = job_in(database), job_in(database, number=2, status="delivered")
    kept = {job_id: finished(database, f"plan of {job_id}", job_id) for job_id in (open_job, done_job)}
    for jump in (-400, 400, 0):
        moment = now() + timedelta(days=jump)
        monkeypatch.setattr(tasks, "now", lambda moment=moment: moment)
        for i in range(4):
            finished(database, f"{jump} {i}", None)
    with database.session(write=False) as session:
        assert tasks.get(session, kept[open_job]).result == "x"
        with pytest.raises(NotFoundError):
            tasks.get(session, kept[done_job])


def finished(database: Database, name: str, job: str | None) -> str:
    task_id = ask(database, name, job=job)
    with database.session(write=True) as session:
        tasks.next_queued(session)
        tasks.record_step(session, task_id, result="x", finished=True)
    return task_id


def test_tasks_are_done_in_the_order_they_were_asked_for(database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    """Also when the clock is set back between them."""
    first = ask(database, "a")
    monkeypatch.setattr(tasks, "now", lambda: now() - timedelta(days=30))
    second = ask(database, "b")
    with database.session(write=True) as session:
        order = [tasks.next_queued(session), tasks.next_queued(session)]
    assert [record and record.id for record in order] == [first, second]


# --- ledger and events


def roll_in(database: Database) -> str:
    """A film and a roll of it, nothing received yet."""
    with database.session(write=True) as session:
        films(session).create(FilmRecord(id="f", facts={"name": "Any"}), person_id="test")
        roll = StockRecord(
            film_id="f", kind="roll", label="r", price=1, width_typed="20", width_mm=508, full_length_typed="100'",
            full_length_mm=30480,
        )  # fmt: skip
        return stock(session).create(roll, person_id="test").id


@examples(30, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(taken=st.lists(st.integers(1, 16 * 12 * 5), max_size=30))
def test_what_is_left_is_the_sum_of_movements_to_the_sixteenth(database: Database, taken: list[int]) -> None:
    """100 ft less any cuts in sixteenths, the film moved in the order of its cuts: 127 counts each, nothing lost."""
    with database.session(write=True) as session:
        if films(session).find("f") is None:
            films(session).create(FilmRecord(id="f", facts={"name": "Any"}), person_id="test")
        roll = StockRecord(
            film_id="f", kind="roll", label="r", price=1, width_typed="20", width_mm=508, full_length_typed="100'",
            full_length_mm=30480,
        )  # fmt: skip
        stock_id = ledger.receive(session, roll, counts(30480), person_id="test", typed="100'").id
        for sixteenths in taken:
            ledger.move(session, stock_id, MovementKind.USED, -counts(sixteenths * 25.4 / 16), person_id="test")
        left = ledger.stock_with_left(session, stock_id)
        assert left.left_count == 127 * (100 * 12 * 16 - sum(taken))
        assert left.length_left_typed == ("100'" if not taken else format_inches(left.length_left_mm))
        assert sum(one.count for one in ledger.movements(session, stock_id)) == left.left_count


@pytest.mark.parametrize("table", ["movement", "step_event"])
@pytest.mark.parametrize("verb", ["UPDATE {} SET kind = 'x'", "DELETE FROM {}"])
def test_movements_and_events_are_append_only(database: Database, table: str, verb: str) -> None:
    stock_id, job_id = roll_in(database), job_in(database)
    with database.session(write=True) as session:
        ledger.move(session, stock_id, MovementKind.RECEIVED, 80, person_id="test")
        ledger.note_event(session, StepEvent("e1", job_id, "peel", "done", now()), person_id="test")
    with pytest.raises(DatabaseError, match="append-only"), database.session(write=True) as session:
        session.execute(text(verb.format(table)))


def test_an_event_sent_twice_is_kept_once_and_events_stand_as_they_happened(database: Database) -> None:
    job_id = job_in(database)
    late, early = now(), now() - timedelta(hours=1)
    with database.session(write=True) as session:
        for event in (StepEvent("b", job_id, "press", "done", late), StepEvent("a", job_id, "peel", "done", early)):
            for _ in range(2):
                ledger.note_event(session, event, person_id="tobi")
        assert [(one.id, one.happened_at) for one in ledger.events_of(session, job_id)] == [("a", early), ("b", late)]


# --- readings added up where they are kept


@examples(30, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(taken=st.lists(st.tuples(TENTHS, TENTHS, TENTHS, st.sampled_from(["L1", "L2"])), max_size=12))
def test_readings_add_up_in_the_database_as_in_the_core(
    database: Database, taken: list[tuple[float, float, float, str]]
) -> None:
    with database.session(write=True) as session:
        session.execute(text("DELETE FROM installed_reading"))
        if films(session).find("f") is None:
            films(session).create(FilmRecord(id="f", facts={"name": "Any"}), person_id="test")
            jobs(session).create(replace(JOB, id="j"), person_id="test")
            windows(session).create(WindowRecord(id="w", job_id="j", ordinal=0, label="w", facts={}), person_id="test")
        for predicted, pm, found, lot in taken:
            reading = InstalledReadingRecord(
                job_id="j", window_id="w", film_id="f", lot=lot, predicted_percent=predicted, predicted_pm=pm,
                read_percent=found, on_day="2026-11-25",
            )  # fmt: skip
            installed_readings(session).create(reading, person_id="test")
        sums = lot_sums(session, starting=starting())
    for lot in ("L1", "L2"):
        own = [InstalledReading(p / 100, pm / 100, found / 100) for p, pm, found, of in taken if of == lot]
        expected = add_up(own, starting=starting())
        if expected.count == 0:
            assert ("f", lot) not in sums
        else:
            got = sums["f", lot]
            assert got.count == expected.count
            assert (got.weight, got.ratio, got.inverse) == pytest.approx(
                (expected.weight, expected.ratio, expected.inverse), rel=1e-9
            )
