"""The counter's look-up: one pane of a car that is not a job, asked on until the answer stands."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.car_view.law_books import current_book
from elumbra.api.car_view.verdicts import percent_of, verdict_out
from elumbra.api.rules.schemas import CounterFilm, CounterWindow, LookUpIn, LookUpOut
from elumbra.car import load_shop
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.film import Film, FilmFacts, check_film
from elumbra.core.glass import Position, WindowKind
from elumbra.core.law import VehicleClass
from elumbra.core.measure import FrozenReadings, Measures, Reading
from elumbra.core.starting import StartingValues
from elumbra.core.units import parse_length
from elumbra.core.work import (
    Job,
    Vehicle,
    Window,
    WindowFacts,
    facts_of,
    releases_by_itself,
    shade_car,
    with_consequences,
)
from elumbra.documents.job_core import core_film
from elumbra.storage.store import NotFoundError

_THIS = "this"
_UNNAMED = "this window"


def look_up(session: Session, body: LookUpIn) -> LookUpOut:
    """A quick answer for one pane of a car that is not a job.

    Without a figure for the glass, our starting value for clear glass, or for privacy glass
    behind the driver of a multipurpose vehicle. What else the answer needs is asked for.

    Raises
    ------
    CoreError
        No position or class, film data that cannot be, or a tape reading that is none.
    """
    shop, book = load_shop(session), current_book(session)
    record = book.of(body.state)
    if body.film_id not in shop.parts:
        raise NotFoundError("film", body.film_id)
    said, car = sent(body.window), sent(body.car)
    position = said.get("position")
    if position is None or car.get("vehicle_class") is None:
        raise CoreError("Which window of which class of car?", fields={"window": "Needs position and class."})
    film = _answered(core_film(shop.parts[body.film_id]), body.film)
    check_film(film, starting=shop.starting)
    vehicle = Vehicle(**(car | {"states": (record.code,), "label": ""}))
    elsewhere = [(at, one) for one in body.others if (at := sent(one).get("position")) not in (None, position)]
    vehicle = replace(vehicle, no_glass_at=tuple(at for at, one in elsewhere if not one.there))
    window = _this_window(body.window, film, vehicle, shop.starting)
    present = [_other_window(at, one) for at, one in elsewhere if one.there]
    shaded = shade_car(Job(vehicle, (window, *present), {film.id: film}), starting=shop.starting)
    shade = shaded.shade(_THIS, book, starting=shop.starting)
    verdict, combined, metered = shade.verdicts[0], shade.combined, bool(window.bare_readings_percent)
    return LookUpOut(
        verdict=verdict_out(verdict),
        released=releases_by_itself(verdict),
        glass_percent=window.bare_vlt_percent,
        glass_words="metered" if metered else f"our starting value for {_kind_of(vehicle, window)} glass",
        film_name=film.name,
        vlt_percent=percent_of(combined.vlt if combined else None),
        pm_points=percent_of(combined.pm if combined else None),
        formula=combined.formula if combined else "",
    )


def _answered(film: Film, said: CounterFilm) -> Film:
    """The film with what was said of it at the counter, where its own data are silent."""
    own = facts_of(film, FilmFacts)
    return replace(film, **{name: value for name, value in sent(said).items() if own[name] in (None, (), "")})


def _kind_of(vehicle: Vehicle, window: Window) -> str:
    behind = window.position in (Position.REAR_SIDE, Position.REAR_WINDOW)
    return "privacy" if behind and vehicle.vehicle_class is VehicleClass.MULTIPURPOSE else "clear"


def _this_window(said: CounterWindow, film: Film, vehicle: Vehicle, starting: StartingValues) -> Window:
    window = _window(said, _THIS, _UNNAMED)
    window = replace(window, film_id=film.id)
    if window.bare is None:
        share = starting[f"assumed_{_kind_of(vehicle, window)}_glass_vlt"]
        return replace(window, bare_vlt_percent=100 * share)
    return window


def _other_window(position: Position, said: CounterWindow) -> Window:
    """Another pane; a film on it is read through."""
    window = _window(said, f"other-{position.value}", f"the {position.value.replace('_', ' ')}")
    if not said.filmed:
        return window
    return replace(window, old_film=True, old_film_stays=True, bare_vlt_through_old_film=True)


def _window(said: CounterWindow, window_id: str, label: str) -> Window:
    facts = with_consequences(
        {name: value for name, value in sent(said).items() if name in WindowFacts.__dataclass_fields__}
    )
    measures = Measures(readings=FrozenReadings(_readings(said)))
    kind = facts.pop("kind", None) or WindowKind.FIXED_SIDE
    return Window(**facts, kind=kind, id=window_id, label=label, measures=measures)


def _readings(said: CounterWindow) -> dict[str, Reading]:
    found = {}
    for key, typed in said.readings.items():
        if typed:
            try:
                length = parse_length(typed)
            except LengthError as error:
                raise LengthError(error.message, fields={key: error.message}) from error
            found[key] = Reading(length.typed, length.mm)
    return found
