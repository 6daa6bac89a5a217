"""The shop's rule book as it stood at any revision."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from elumbra.core.errors import LawError
from elumbra.core.glass import Position
from elumbra.core.law import FieldWord, VehicleClass
from elumbra.storage import data_files, law_words
from elumbra.storage.data_files import read_data
from elumbra.storage.database import Database
from elumbra.storage.law_words import Shelf
from elumbra.storage.store import NotFoundError

DAY = "2026-11-24"


@pytest.fixture
def session(tmp_path: Path) -> Iterator[Session]:
    database = Database(tmp_path / "x.db")
    database.migrate()
    with database.session(write=True) as opened:
        yield opened
    database.close()


def word(percent: float, **over: str) -> FieldWord:
    value = {"kind": "floor", "value": percent}
    return FieldWord("", "UT", "passenger.front_side", value, **({"citation": "made up"} | over))


def limit(session: Session, revision: int, day: str = DAY) -> float | None:
    book = Shelf(session).book(revision, day)
    return book.of("UT").floor(VehicleClass.PASSENGER, Position.FRONT_SIDE).value


def test_an_untouched_book_is_the_shipped_one(session: Session) -> None:
    shelf = Shelf(session)
    assert shelf.latest == 0
    assert shelf.file(0) is data_files.law_file()
    assert limit(session, 0) == 0.43


def test_each_change_counts_a_revision_and_every_one_can_be_read_again(session: Session) -> None:
    first = law_words.say(session, word(40), person_id="ines")
    second = law_words.say(session, word(35), person_id="ines", replaces=first.id)
    law_words.withdraw(session, second.id, person_id="mara")
    assert Shelf(session).latest == 3
    assert [limit(session, revision) for revision in range(4)] == [0.43, 0.40, 0.35, 0.43]
    told = law_words.history(session, "UT")
    assert [(entry.revision, entry.withdrawn_revision, entry.withdrawn_by) for entry in told] == [
        (2, 3, "mara"),
        (1, 2, "ines"),
    ]


def test_words_hold_on_their_days_only(session: Session) -> None:
    law_words.say(session, word(35, effective_from="2027-01-01", effective_until="2027-12-31"), person_id="ines")
    days = ("2026-12-31", "2027-01-01", "2027-12-31", "2028-01-01")
    assert [limit(session, 1, day) for day in days] == [0.43, 0.35, 0.35, 0.43]
    assert [limit(session, 0, day) for day in days] == [0.43] * 4


def test_a_law_file_taken_in_holds_from_its_revision_and_words_lie_over_it(session: Session) -> None:
    import json

    document = read_data("law/us_states.json")
    utah = next(row for row in document["records"] if row["code"] == "UT")
    utah["passenger"]["front_side"] = {"kind": "floor", "value": 50}
    law_words.take_in_file(session, json.dumps(document | {"version": "made-up"}), person_id="ines")
    law_words.say(session, word(38), person_id="ines")
    assert [limit(session, revision) for revision in range(3)] == [0.43, 0.50, 0.38]
    assert [Shelf(session).file(revision).version for revision in range(3)][1:] == ["made-up", "made-up"]


def test_a_bad_law_file_is_not_kept(session: Session) -> None:
    with pytest.raises(LawError, match="no records"):
        law_words.take_in_file(
            session, '{"format": "elumbra-law", "format_version": 2, "records": []}', person_id="ines"
        )
    assert Shelf(session).latest == 0


def test_withdrawing_twice_or_nothing_is_refused(session: Session) -> None:
    said = law_words.say(session, word(40), person_id="ines")
    law_words.withdraw(session, said.id, person_id="ines")
    for word_id in (said.id, "nobody"):
        with pytest.raises(NotFoundError, match="word of the shop in force"):
            law_words.withdraw(session, word_id, person_id="ines")


def test_records_nobody_spoke_of_are_the_same_ones_at_every_revision(session: Session) -> None:
    """So that their clauses are built once, and a comparison is a glance."""
    law_words.say(session, word(40), person_id="ines")
    shelf = Shelf(session)
    assert shelf.book(0, DAY).of("TX") is shelf.book(1, DAY).of("TX")
    assert shelf.book(0, DAY).of("UT") is not shelf.book(1, DAY).of("UT")
    assert shelf.book(1, DAY) is Shelf(session).book(1, DAY), "kept between requests"


def test_old_files_get_the_new_columns_with_their_defaults(tmp_path: Path) -> None:
    """A shop of version 0.1 opened by this one: its windows, films and jobs are all still there."""
    from alembic import command
    from alembic.config import Config

    database = Database(tmp_path / "old.db")
    config = Config()
    config.set_main_option("script_location", str(Path(law_words.__file__).parent / "migrations"))
    config.attributes["engine"] = database.engine
    command.upgrade(config, "2026_11_24_first_tables")
    with database.session(write=True) as session:
        session.execute(
            text(
                "INSERT INTO job (id, version, removed, number, title, customer, note, status, bay, vehicle_label, body,"
                " vehicle_class, states, created_at) VALUES ('j', 1, 0, 7, 't', '', '', 'booked', '', 'v', 'sedan',"
                " 'passenger', '[\"TX\"]', '2026-11-24 10:00:00')"
            )
        )
        session.execute(
            text(
                "INSERT INTO window (id, version, removed, job_id, ordinal, label, position, side, kind, glass_type,"
                " bare_vlt_source, old_film, coverage, curve, level, figure, readings, same_as_mirrored) VALUES"
                " ('w', 1, 0, 'j', 0, 'Driver front', 'front_side', 'driver', 'framed_door', 'tempered', 'assumed', 0,"
                " 'full', 'flat', 'size', 'four', '{}', 0)"
            )
        )
    with database.session(write=True) as session:
        session.execute(
            text(
                "INSERT INTO film (id, version, removed, name, construction, vlt_percent, vlt_basis, colour,"
                " mirror_finish, price_per_m2) VALUES ('f', 1, 0, 'Old 35', 'carbon', 35, 'unknown', 'neutral', 1, 9)"
            )
        )
        session.execute(
            text(
                "INSERT INTO stock (id, version, removed, film_id, kind, label, width_typed, width_mm,"
                " full_length_typed, full_length_mm, length_left_typed, length_left_mm, price, lot, liner) VALUES"
                " ('r', 1, 0, 'f', 'roll', 'O35', '20', 508, '100''', 30480, '41'' 3 1/16', 12574.5875, 200, '', 'up')"
            )
        )
    database.migrate()
    from elumbra.api.car_view.view import job_screen
    from elumbra.api.rack.operations import rack
    from elumbra.storage.ledger import movements

    with database.session(write=False) as session:
        job, on_rack = job_screen(session, "j"), rack(session)
        entered = movements(session, "r")
    assert job.stuck is None
    shown = job.model_dump(mode="json")
    assert (job.law.day, shown["registered_as"], shown["no_glass_at"], shown["states"]) == (
        "2026-11-24",
        None,
        [],
        ["TX"],
    )
    window = job.windows[0]
    assert (window.layers, window.findings, window.strip_shape, window.bare_readings_percent) == (
        [],
        {},
        "straight",
        (),
    )
    (film,), (roll,) = on_rack.model_dump(mode="json")["films"], on_rack.stock
    assert (film["name"], film["vlt_percent"], film["mirror_finish"], film["warranty"]) == (
        "Old 35",
        35,
        True,
        "unknown",
    )
    assert (roll.length_left, roll.length_left_mm) == ("41' 3 1/16", 12574.5875)
    assert [(one.kind, one.count) for one in entered] == [("received", 2438400), ("corrected", 1005967 - 2438400)]
    with pytest.raises(DatabaseError), database.session(write=True) as session:
        session.execute(text("INSERT INTO reason (id) VALUES ('x')"))
    database.close()
