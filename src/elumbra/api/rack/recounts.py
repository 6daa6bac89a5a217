"""Recounting a roll from a tape round it: proposes, and never writes by itself."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.rack.schemas import FullRollBody, GirthQuery, RecountOut
from elumbra.car import shop_starting_values
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.film import FullRoll, check_full_roll, recount
from elumbra.core.units import format_inches, parse_length
from elumbra.storage import clock, ledger
from elumbra.storage.film_uses import check_film_present
from elumbra.storage.rack import full_rolls
from elumbra.storage.records import FullRollRecord, PersonRecord


def recounted(session: Session, stock_id: str, query: GirthQuery) -> RecountOut:
    """What a girth tells of a roll's length, beside what the ledger says.

    Raises
    ------
    CoreError
        No roll, no full roll of this film to calibrate on, or readings that cannot be.
    """
    record = ledger.stock_with_left(session, stock_id)
    if record.kind != "roll":
        raise CoreError(f"{record.label} is no roll. Measure it flat, and correct what is left.")
    read = _lengths({"girth": query.girth, "core": query.core})
    known = [
        FullRoll(one.girth_mm, one.core_mm, one.length_mm) for one in full_rolls(session).all(film_id=record.film_id)
    ]  # fmt: skip
    sigma = shop_starting_values(session)["tape_sigma_mm"]
    found = recount(read["girth"], read["core"], known, tape_sigma=sigma)
    left = record.length_left_mm
    agrees = found.agrees_with(left)
    told = f"{_feet(found.length)}, give or take {_feet(found.pm)}; the ledger says {_feet(left)}."
    words = (
        f"By the tape {told} Both may be true: nothing to correct."
        if agrees
        else f"By the tape {told} That cannot both be: correct it, with the reason, or read the tape again."
    )
    return RecountOut(
        length_mm=found.length, pm_mm=found.pm, low_mm=found.low, high_mm=found.high, thickness_mm=found.thickness,
        rolls=found.rolls, ledger_mm=left, agrees=agrees, words=words,
        proposed=None if agrees else f"{format_inches(min(found.length, record.full_length_mm))}",
    )  # fmt: skip


def _feet(length_mm: float) -> str:
    return f"{length_mm / 304.8:.1f} ft"


def full_roll_read(session: Session, film_id: str, body: FullRollBody, *, person: PersonRecord) -> str:
    """Keep a full roll's girth, to know the film's thickness by; the film's id."""
    check_film_present(session, film_id, where="the list of films")
    read = _lengths(body.model_dump())
    check_full_roll(FullRoll(read["girth"], read["core"], read["length"]))
    full_rolls(session).create(
        FullRollRecord(
            film_id=film_id, girth_mm=read["girth"], core_mm=read["core"], length_mm=read["length"],
            on_day=clock.today_iso(), person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip
    return film_id


def strike_full_roll(session: Session, full_roll_id: str, *, version: int, person_id: str) -> str:
    """Take a full roll's reading out of the calibration; the film's id."""
    return full_rolls(session).remove(full_roll_id, version=version, person_id=person_id).film_id


def _lengths(typed: dict[str, str]) -> dict[str, float]:
    read, problems = {}, {}
    for name, text in typed.items():
        try:
            read[name] = parse_length(text).mm
        except LengthError as error:
            problems[name] = error.message
    if problems:
        raise CoreError(next(iter(problems.values())), fields=problems)
    return read
