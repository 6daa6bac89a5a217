"""A shop of 0.11.2 opened by this release: each job's state has a deed that tells it, and what was closed is delivered."""

from __future__ import annotations

from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import text

from elumbra.storage import deeds, law_words
from elumbra.storage.database import Database
from elumbra.storage.store import jobs

JOBS = [
    # id, status, handed over, promised, removed
    ("asked", "booked", "", None, 0),
    ("promised", "booked", "", "2026-11-20 15:00:00", 0),
    ("booked", "booked", "", None, 0),
    ("here", "in_bay", "", None, 0),
    ("paused", "paused", "", None, 0),
    ("gone", "done", "2026-11-12", None, 0),
    ("closed", "done", "", None, 0),
    ("removed", "booked", "", None, 1),
]


@pytest.fixture
def upgraded(tmp_path: Path) -> Database:
    """The shop after its upgrade."""
    database = Database(tmp_path / "old.db")
    config = Config()
    config.set_main_option("script_location", str(Path(law_words.__file__).parent / "migrations"))
    config.attributes["engine"] = database.engine
    command.upgrade(config, "2026_11_29_practice")
    with database.session(write=True) as session:
        session.execute(
            text(
                "INSERT INTO person (id, version, removed, name, role) VALUES ('tobi', 1, 0, 'Tobi Lund', 'installer')"
            )
        )
        for number, (name, status, day, promised, removed) in enumerate(JOBS):
            session.execute(
                text(
                    "INSERT INTO job (id, version, removed, number, title, customer, note, status, bay, vehicle_label, body,"
                    " created_at, promised_at, handed_over_on, facts, stamp, law_day, law_revision) VALUES"
                    " (:id, 1, :removed, :number, 't', '', '', :status, '', 'v', 'sedan', '2026-11-01 10:00:00', :promised,"
                    " :day, '{\"states\": [\"TX\"]}', 0, '', 0)"
                ),
                {"id": name, "removed": removed, "number": number, "status": status, "promised": promised, "day": day},
            )
        session.execute(
            text(
                "INSERT INTO booking (id, version, removed, day, drop_off_at, waits_here, note)"
                " VALUES ('booked', 1, 0, '2026-11-30', '2026-11-30 15:00:00', 0, '')"
            )
        )
        session.execute(
            text(
                "INSERT INTO audit (at, person_id, action, record_kind, record_id, record_version, job_id, changes) VALUES"
                " ('2026-11-14 17:00:00', 'tobi', 'changed', 'job', 'closed', 2, 'closed', '{\"status\": [\"in_bay\", \"done\"]}')"
            )
        )
    database.migrate()
    return database


def test_each_state_follows_from_deeds_after_the_upgrade(upgraded: Database) -> None:
    with upgraded.session(write=False) as session:
        found = {
            job.id: (job.status, [one.deed for one in deeds.deeds_of(session, job.id)])
            for job in jobs(session).all(removed_too=True)
        }
    assert found == {
        "asked": ("inquiry", []),
        "promised": ("booked", ["book"]),
        "booked": ("booked", ["book"]),
        "here": ("in_bay", ["start"]),
        "paused": ("paused", ["start", "pause"]),
        "gone": ("delivered", ["deliver"]),
        "closed": ("delivered", ["deliver"]),
        "removed": ("inquiry", []),
    }


def test_what_was_closed_without_a_handover_is_delivered_that_day_and_marked(upgraded: Database) -> None:
    with upgraded.session(write=False) as session:
        closed, gone = jobs(session).get("closed"), jobs(session).get("gone")
        (deed,), (handed,) = deeds.deeds_of(session, "closed"), deeds.deeds_of(session, "gone")
    assert (closed.handed_over_on, gone.handed_over_on) == ("2026-11-14", "2026-11-12")
    assert dict(deed.told) == {"made_by_upgrade": True, "without_handover": True}
    assert (deed.person_name, deed.at.isoformat()) == ("Tobi Lund", "2026-11-14T17:00:00")
    assert dict(handed.told) == {"made_by_upgrade": True}


def test_archived_jobs_stay_in_the_archive(upgraded: Database) -> None:
    with upgraded.session(write=False) as session:
        assert jobs(session).get("removed").removed
