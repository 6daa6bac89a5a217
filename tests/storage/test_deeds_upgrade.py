"""A shop of 0.11.2 opened by this release: each job's state has a deed that tells it, and what was closed is delivered."""

from __future__ import annotations

from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import text

from elumbra.storage import deeds, law_words
from elumbra.storage.database import Database
from elumbra.storage.store import jobs, windows

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


WINDOWS = [
    # id, job, type before, after
    ("listed", "booked", "tempered", "unknown"),
    ("of_list_here", "here", "tempered", "unknown"),
    ("read", "booked", "tempered", "tempered"),  # somebody set it
    ("begun", "here", "tempered", "tempered"),  # work on it is on record
    ("shield", "booked", "laminated", "laminated"),
    ("soft", "booked", "plastic", "plastic"),
    ("went", "gone", "tempered", "tempered"),
    ("of_closed", "closed", "tempered", "tempered"),
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
        for name, job, glass, _ in WINDOWS:
            session.execute(
                text(
                    "INSERT INTO window (id, version, removed, job_id, ordinal, label, curve, level, figure, readings,"
                    " same_as_mirrored, facts, reentrant, drawn, layers) VALUES (:id, 3, 0, :job, 0, :id, 'flat', 'size',"
                    " 'four', '{}', 0, json_object('position', 'front_side', 'side', 'driver', 'kind', 'framed_door',"
                    " 'glass_type', :glass), '[]', '[]', '[]')"
                ),
                {"id": name, "job": job, "glass": glass},
            )
            session.execute(
                text(
                    "INSERT INTO audit (at, person_id, action, record_kind, record_id, record_version, job_id, changes)"
                    " VALUES ('2026-11-01 10:00:00', 'tobi', 'created', 'window', :id, 1, :job,"
                    " json_object('glass_type', json_array(null, :glass)))"
                ),
                {"id": name, "job": job, "glass": glass},
            )
        session.execute(
            text(
                "INSERT INTO audit (at, person_id, action, record_kind, record_id, record_version, job_id, changes) VALUES"
                " ('2026-11-02 10:00:00', 'tobi', 'changed', 'window', 'read', 2, 'booked',"
                ' \'{"glass_type": ["laminated", "tempered"]}\')'
            )
        )
        session.execute(
            text(
                "INSERT INTO step_event (id, job_id, window_id, step, kind, value, happened_at, person_id, at) VALUES"
                " ('e', 'here', 'begun', '', 'tick', '', '2026-11-02 10:00:00', 'tobi', '2026-11-02 10:00:00')"
            )
        )
    database.migrate()
    return database


def test_what_the_list_said_of_glass_and_nobody_read_is_not_read(upgraded: Database) -> None:
    with upgraded.session(write=False) as session:
        found = {one.id: one.facts["glass_type"] for one in windows(session).all()}
        told = session.execute(
            text("SELECT record_id, changes FROM audit WHERE action = 'mark not read' ORDER BY record_id")
        ).all()
        stamps = {one[0]: one[1] for one in session.execute(text("SELECT id, stamp FROM job"))}
    assert found == {name: after for name, _, _, after in WINDOWS}
    assert [one[0] for one in told] == ["listed", "of_list_here"]
    assert {one[1] for one in told} == {'{"glass_type":["tempered","unknown"]}'}
    assert {name for name, stamp in stamps.items() if stamp} == {"booked", "here"}, "lists are worked out anew"


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
