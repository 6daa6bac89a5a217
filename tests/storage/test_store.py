from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import DatabaseError, IntegrityError

from elumbra.storage import solves
from elumbra.storage.database import Database
from elumbra.storage.store import NotFoundError, StaleWriteError, jobs, now, people, shop_values, stock
from elumbra.storage.tables import AuditRow, Base


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
        people(session).create({"name": "Ada", "role": "lead"}, person_id="test", record_id="ada")
        raise RuntimeError
    with database.session(write=False) as session:
        assert people(session).all() == []
        assert session.scalars(select(AuditRow)).all() == []


def test_stale_write_is_refused_with_what_changed(database: Database) -> None:
    with database.session(write=True) as session:
        store = people(session)
        store.create({"name": "Ada", "role": "lead"}, person_id="test", record_id="ada")
        store.update("ada", {"name": "Ada L."}, version=1, person_id="bea")
        store.update("ada", {"role": "installer"}, version=2, person_id="cy")
        with pytest.raises(StaleWriteError, match="Someone changed name, role of this person") as refusal:
            store.update("ada", {"name": "Augusta"}, version=1, person_id="test")
        assert {(c.field, c.now, c.person_id) for c in refusal.value.changed} == {
            ("name", "Ada L.", "bea"),
            ("role", "installer", "cy"),
        }
        assert store.get("ada").name == "Ada L."


def test_same_values_make_no_new_version(database: Database) -> None:
    with database.session(write=True) as session:
        store = people(session)
        store.create({"name": "Ada", "role": "lead"}, person_id="test", record_id="ada")
        assert store.update("ada", {"name": "Ada"}, version=1, person_id="test").version == 1


def test_removed_records_are_out_of_sight_and_come_back(database: Database) -> None:
    with database.session(write=True) as session:
        store = shop_values(session)
        store.create({"value": 3.0}, person_id="test", record_id="blank_play_mm")
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
        people(session).create({"name": "Ada", "role": "lead"}, person_id="test")
    with pytest.raises(DatabaseError, match="append-only"), database.session(write=True) as session:
        session.execute(text(statement))


def test_unknown_record_and_broken_reference(database: Database) -> None:
    with pytest.raises(NotFoundError, match="no person “x”"), database.session(write=False) as session:
        people(session).get("x")
    values = {"film_id": "gone", "kind": "roll", "label": "r", "price": 1, "lot": "", "liner": "up"}
    for name in ("width", "full_length", "length_left"):
        values |= {f"{name}_typed": "20", f"{name}_mm": 508}
    with pytest.raises(IntegrityError), database.session(write=True) as session:
        stock(session).create(values, person_id="test")


def ask(database: Database, name: str, *, job: str | None = None) -> str:
    with database.session(write=True) as session:
        return solves.enqueue(session, job_id=job, input_hash=name, document="{}").id


def test_queue_gives_the_same_input_the_same_solve_and_oldest_first(database: Database) -> None:
    first, second = ask(database, "a"), ask(database, "b")
    assert ask(database, "a") == first
    with database.session(write=True) as session:
        record = solves.next_queued(session)
        assert record is not None
        assert record.id in (first, second)
        assert solves.get(session, record.id).status == "running"


def test_plan_is_found_by_what_the_job_says_now(database: Database) -> None:
    """Film A, film B, back to A: the sheet that is printed is the one of A, though B was worked out last."""
    values = {
        "number": 1,
        "title": "t",
        "vehicle_label": "v",
        "body": "sedan",
        "vehicle_class": "passenger",
        "states": ["TX"],
    }
    with database.session(write=True) as session:
        job_id = jobs(session).create(values | {"created_at": now()}, person_id="test").id
    for name in ("a", "b"):
        solve_id = ask(database, name, job=job_id)
        with database.session(write=True) as session:
            solves.next_queued(session)
            solves.record_step(session, solve_id, plan=name, finished=True)
    with database.session(write=False) as session:
        found = [solves.finished_for(session, job_id, name) for name in ("a", "b", "c")]
        assert [record and record.plan for record in found] == ["a", "b", None]
        assert solves.latest_plans(session, [job_id])[job_id].plan == "b"


def test_queue_is_bounded(database: Database) -> None:
    for i in range(solves.LONGEST_QUEUE):
        ask(database, str(i))
    with pytest.raises(solves.QueueFullError, match="20 layouts are waiting already"):
        ask(database, "one more")


def test_cancelled_solve_takes_no_more_steps_and_keeps_its_best(database: Database) -> None:
    solve_id = ask(database, "a")
    with database.session(write=True) as session:
        solves.next_queued(session)
        solves.record_step(session, solve_id, plan="first", finished=False)
        solves.finish(session, solve_id, status="cancelled")
        solves.record_step(session, solve_id, plan="late", finished=True)
    with database.session(write=False) as session:
        record = solves.get(session, solve_id)
    assert (record.status, record.plan, record.step) == ("cancelled", "first", 1)


def test_interrupted_solve_starts_again(database: Database) -> None:
    solve_id = ask(database, "a")
    with database.session(write=True) as session:
        solves.next_queued(session)
        solves.requeue_interrupted(session)
        assert solves.get(session, solve_id).status == "queued"
