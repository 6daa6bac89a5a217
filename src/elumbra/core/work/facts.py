"""What is known of a window and of a vehicle: every fact declared here and nowhere else.

Job file, API answers and patches, defaults and storage follow from these classes; screens
draw a field for each fact that ``asked_facts`` names. To add a finding, see
docs/guide/adding-a-finding.md.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import MISSING, Field, dataclass, field, fields
from enum import StrEnum
from types import NoneType
from typing import Annotated, Any, get_args, get_type_hints

from annotated_types import Ge, Le, Len

from elumbra.core.bounds import Percent
from elumbra.core.cut import CutMethod, PutByHand, StripShape
from elumbra.core.glass import GlassType, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass
from elumbra.core.light import GlassSource
from elumbra.core.removal import Way
from elumbra.core.survey import Answer, Answers, Follows, asked_findings, window_follows


class Coverage(StrEnum):
    """How much of a pane the film covers."""

    FULL = "full"
    STRIP = "strip"  # from the top down


def fact(
    label: str = "",
    *,
    default: Any = MISSING,
    factory: Any = MISSING,
    unknown: str = "",
    at: frozenset[Position] | None = None,
    under: str = "",
    on_both: bool = False,
) -> Any:
    """A fact of a dataclass, with what a screen needs to ask for it.

    Parameters
    ----------
    label
        What the field is called; empty for facts that have a place of their own on the screens.
    default
        Where nobody said; left out for facts that must be said.
    factory
        Makes that, where it is a value of its own each time.
    unknown
        What “nobody said” is called, for a yes or no.
    at
        Positions that can raise it; None: all.
    under
        Name of the yes-or-no fact that must hold before this is asked.
    on_both
        Likely the same on the other side of the car.
    """
    metadata = {"label": label, "unknown": unknown, "at": at, "under": under, "on_both": on_both}
    if factory is not MISSING:
        return field(default_factory=factory, metadata=metadata)
    return field(default=default, metadata=metadata)


_WINDSHIELD = frozenset({Position.WINDSHIELD})
_MAY_HAVE_STRIP = frozenset({Position.WINDSHIELD, Position.FRONT_SIDE})


@dataclass(frozen=True, kw_only=True)
class GlassFacts:
    """What is known of a pane of glass whatever car it is in: the same on every car of its model."""

    glass_type: GlassType = fact("Glass type", default=GlassType.UNKNOWN, on_both=True)
    kind: WindowKind = fact("Kind")
    position: Position = fact("Legal position")
    side: Side = fact(default=Side.CENTRE)
    factory_glass: bool | None = fact("Dark from the factory", default=None, unknown="told by the meter", on_both=True)


@dataclass(frozen=True, kw_only=True)
class WindowFacts(GlassFacts):
    """What is known of a window; light in percent, None where nobody said."""

    bare_vlt_percent: Percent | None = fact(default=None)
    bare_readings_percent: Annotated[tuple[Percent, ...], Len(0, 20)] = fact(default=())
    bare_vlt_source: GlassSource = fact("Where from", default=GlassSource.ASSUMED)
    coverage: Coverage = fact("Film covers", default=Coverage.FULL, at=_MAY_HAVE_STRIP)
    as1_mark: bool | None = fact("AS-1 line on the glass", default=None, unknown="not looked at yet", at=_WINDSHIELD)
    old_film: bool = fact("Old film on it", default=False, on_both=True)
    old_film_stays: bool = fact("It stays on, new film over it", default=False, under="old_film", on_both=True)
    old_film_off: bool = fact("It is off now", default=False, under="old_film", on_both=True)
    strip_way: Way | None = fact(default=None, on_both=True)  # how old film comes off; None: as advised
    strip_night: bool = fact("It may stay overnight", default=False, under="old_film", on_both=True)
    bare_vlt_through_old_film: bool = fact("The meter read through it", default=False, under="old_film")
    findings: Answers = fact(factory=dict)  # by name, as the table of findings declares them
    readings_kept: bool = fact(default=False)  # somebody stands by readings that may be off
    seen_from_outside: bool = fact(default=False)  # somebody looked which way the pane leans
    cut_method: CutMethod | None = fact(default=None, on_both=True)  # None: as the whole car
    by_hand: Annotated[tuple[PutByHand, ...], Len(0, 4)] = fact(default=())  # pieces that somebody placed on the film
    strip_shape: StripShape = fact(default=StripShape.STRAIGHT)
    strip_pieces: Annotated[int, Ge(1), Le(2)] = fact(default=1)
    film_turned: bool = fact(default=False)  # the roll's direction up the pane, decided at Heat
    cross_line_mm: Annotated[float, Ge(0), Le(3000)] | None = fact(default=None)  # at the middle, from the foot
    cross_slope: Annotated[float, Ge(-0.5), Le(0.5)] = fact(default=0.0)
    in_strips: bool = fact(default=False)  # several strips instead of one piece that will not shrink
    one_piece_because: Annotated[str, Len(0, 200)] = fact(default="")  # why one piece is cut all the same
    one_piece_film: Annotated[str, Len(0, 64)] = fact(default="")  # the film that was said of, and no other
    play_mm: Annotated[float, Ge(0), Le(100)] | None = fact(default=None)  # less than usual, accepted for this pane


@dataclass(frozen=True, kw_only=True)
class VehicleFacts:
    """What the law asks of the vehicle as a whole; None where nobody said."""

    vehicle_class: VehicleClass
    states: Annotated[tuple[str, ...], Len(1, 6)]
    mirrors_both_sides: bool | None = None
    model_year: Annotated[int, Ge(1900), Le(2100)] | None = None
    registered_as: RegisteredAs | None = None
    persons: Annotated[int, Ge(1), Le(100)] | None = None  # that it is made to carry
    truck_chassis: bool | None = None
    off_road_parts: bool | None = None
    two_lots_allowed: bool = False  # a pair may come from two lots of film
    into_holds: bool = False  # film held for other jobs may be planned on
    cut_method: CutMethod = CutMethod.BULK  # of every window that has none of its own
    no_glass_at: Annotated[tuple[Position, ...], Len(0, 5)] = ()
    findings: Answers = field(default_factory=dict)


_PASSENGER_KINDS = frozenset(
    {RegisteredAs.SEDAN, RegisteredAs.COUPE, RegisteredAs.HATCHBACK, RegisteredAs.HARDTOP, RegisteredAs.CONVERTIBLE}
)
_MULTIPURPOSE_KINDS = frozenset(
    {RegisteredAs.SUV, RegisteredAs.MINIVAN, RegisteredAs.VAN, RegisteredAs.PICKUP, RegisteredAs.TRUCK}
)


def class_contradiction(vehicle: VehicleFacts) -> str:
    """Where the registration says another class than the one judged by, that in words; else nothing.

    Examples
    --------
    >>> sedan = VehicleFacts(vehicle_class=VehicleClass.MULTIPURPOSE, states=("TX",), registered_as=RegisteredAs.SEDAN)
    >>> class_contradiction(sedan)
    'Registered as sedan, yet judged as an SUV, van or truck. One of the two is wrong.'
    """
    named = vehicle.registered_as.value.replace("_", " ").replace("suv", "SUV") if vehicle.registered_as else ""
    if vehicle.vehicle_class is VehicleClass.MULTIPURPOSE and vehicle.registered_as in _PASSENGER_KINDS:
        return f"Registered as {named}, yet judged as an SUV, van or truck. One of the two is wrong."
    if vehicle.vehicle_class is VehicleClass.PASSENGER and vehicle.registered_as in _MULTIPURPOSE_KINDS:
        return f"Registered as {named}, yet judged as a passenger car. One of the two is wrong."
    return ""


def facts_of(holder: Any, kind: type[Any]) -> dict[str, Any]:
    """The facts that a job file's part, a core value or a record carries, by name.

    Examples
    --------
    >>> car = VehicleFacts(vehicle_class=VehicleClass.PASSENGER, states=("TX",))
    >>> list(facts_of(car, VehicleFacts))[:2]
    ['vehicle_class', 'states']
    """
    return {one.name: getattr(holder, one.name) for one in fields(kind)}


def assumed_as(glass: GlassFacts, *, unless_said: str) -> str:
    """Which glass a pane is taken for before it is metered: clear, privacy, or what its body style has.

    Examples
    --------
    >>> pane = {"kind": WindowKind.HATCH, "position": Position.REAR_WINDOW}
    >>> assumed_as(GlassFacts(**pane, factory_glass=True), unless_said="clear")
    'privacy'
    """
    if glass.factory_glass is None:
        return unless_said
    return "privacy" if glass.factory_glass else "clear"


def same_on_both() -> tuple[str, ...]:
    """The facts of a window that its counterpart on the other side likely has as well.

    Examples
    --------
    >>> same_on_both()[:2]
    ('glass_type', 'factory_glass')
    """
    return tuple(one.name for one in fields(WindowFacts) if one.metadata["on_both"])


def fact_fields(kind: type[Any]) -> tuple[Field[Any], ...]:
    """The facts of a kind, in the order they are declared."""
    return fields(kind)


def may_be_unsaid(kind: type[Any]) -> frozenset[str]:
    """The facts that can be set back to “nobody said”.

    Examples
    --------
    >>> sorted(may_be_unsaid(VehicleFacts))
    ['mirrors_both_sides', 'model_year', 'off_road_parts', 'persons', 'registered_as', 'truck_chassis']
    """
    return frozenset(name for name, hint in get_type_hints(kind).items() if NoneType in get_args(hint))


def asked_facts(window: WindowFacts) -> tuple[str, ...]:
    """The facts that a window of its position is asked for now, in the order they are asked."""
    return tuple(
        one.name
        for one in fields(WindowFacts)
        if one.metadata["label"]
        and (one.metadata["at"] is None or window.position in one.metadata["at"])
        and (not one.metadata["under"] or getattr(window, one.metadata["under"]))
    )


def fact_answers(window: WindowFacts) -> Answers:
    """Facts that findings are asked under, or that have consequences of their own, as answers."""
    known: dict[str, Answer] = {"old_film": "yes" if window.old_film else "no"}
    if window.glass_type is not GlassType.UNKNOWN:
        known["glass_type"] = window.glass_type.value
    return known


def findings_asked(window: WindowFacts) -> tuple[str, ...]:
    """The findings that a window is asked for now, in the order one looks."""
    return asked_findings(window.kind, window.position, window.findings, fact_answers(window))


def follows_of(window: WindowFacts) -> tuple[Follows, ...]:
    """What a window's findings change at later stations."""
    return window_follows(window.kind, window.position, window.findings, fact_answers(window))


def no_film_reason(window: WindowFacts) -> str:
    """Why no film goes on a window at all; empty where film may."""
    return next((one.what.words for one in follows_of(window) if one.what.no_film), "")


def bared(readings_percent: Sequence[float]) -> dict[str, Any]:
    """What changes where a window's old film has come off, and what the bare glass was read to.

    Examples
    --------
    >>> bared([72.0])["bare_readings_percent"]
    (72.0,)
    >>> bared([])
    {'old_film_off': True}
    """
    changes: dict[str, Any] = {"old_film_off": True}
    if readings_percent:
        changes |= {"bare_readings_percent": tuple(readings_percent), "bare_vlt_through_old_film": False}
    return changes


def is_off(window: WindowFacts) -> bool:
    """Whether old film was there and is off now."""
    return window.old_film and window.old_film_off


def comes_off(window: WindowFacts) -> bool:
    """Whether a window's old film comes off, or came off in this job."""
    return window.old_film and not window.old_film_stays


def filmed_before(*, comes_off: bool) -> dict[str, Any]:
    """What a window's facts become where film of an earlier job is on it: to come off, or to stay.

    Examples
    --------
    >>> filmed_before(comes_off=True)
    {'old_film': True, 'old_film_stays': False, 'old_film_off': False}
    """
    return {"old_film": True, "old_film_stays": not comes_off, "old_film_off": False}


def facts_of_model(glass: Any) -> dict[str, Any]:
    """What another pane of a model may be taken for: all facts but the maker's mark, which is read off each pane.

    What a windshield is made of is known, and that plastic takes no film is the safe side.
    """
    told = facts_of(glass, GlassFacts)
    if glass.position is Position.WINDSHIELD or is_plastic(glass):
        return told
    return {name: one for name, one in told.items() if name != "glass_type"}


def is_plastic(glass: GlassFacts) -> bool:
    """Whether a pane is of plastic, which takes no film."""
    return glass.glass_type is GlassType.PLASTIC


def stays_overnight(window: WindowFacts) -> bool:
    """Whether the car may stay overnight for a window's old film."""
    return window.strip_night


def with_consequences(changes: Mapping[str, Any]) -> dict[str, Any]:
    """Changes of a window with what follows from them.

    Readings of the meter give the glass's figure; a figure typed by itself replaces them. Where
    there is no old film, nothing is known of it.

    Examples
    --------
    >>> with_consequences({"bare_readings_percent": (70.0, 72.0)})["bare_vlt_percent"]
    71.0
    >>> with_consequences({"old_film": False})["old_film_stays"]
    False
    """
    all_changes = dict(changes)
    readings = changes.get("bare_readings_percent")
    if readings:
        mean = round(sum(readings) / len(readings), 4)
        all_changes |= {"bare_vlt_percent": mean, "bare_vlt_source": GlassSource.METERED}
    elif "bare_vlt_percent" in changes:
        all_changes["bare_readings_percent"] = ()
    if changes.get("old_film") is False:
        all_changes |= {
            "old_film_stays": False,
            "bare_vlt_through_old_film": False,
            "layers": (),
            "old_film_off": False,
        }
    if changes.get("old_film_off") is True and "bare_vlt_percent" not in all_changes:
        # What was read with the film on says nothing of the bare glass.
        all_changes |= {"bare_readings_percent": (), "bare_vlt_source": GlassSource.ASSUMED}
        all_changes["bare_vlt_through_old_film"] = False
    return all_changes
