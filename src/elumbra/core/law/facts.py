"""What the law asks about: the car, its panes, and the questions left open."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.light import Combined


class VehicleClass(StrEnum):
    """The class a vehicle is judged as."""

    PASSENGER = "passenger"
    MULTIPURPOSE = "multipurpose"  # SUV, van, truck


class RegisteredAs(StrEnum):
    """The class on the registration paper, which some laws go by."""

    SEDAN = "sedan"
    COUPE = "coupe"
    HATCHBACK = "hatchback"
    STATION_WAGON = "station_wagon"
    HARDTOP = "hardtop"
    CONVERTIBLE = "convertible"
    SUV = "suv"  # in some states "suburban" or multipurpose
    MINIVAN = "minivan"
    VAN = "van"
    PICKUP = "pickup"
    TRUCK = "truck"
    BUS = "bus"
    LIMOUSINE = "limousine"
    MOTOR_HOME = "motor_home"


class Asks(StrEnum):
    """What a question is about, and so where and how it is answered."""

    BARE_VLT = "bare_vlt"  # of a window: percent, from the meter
    STRIP_DEPTH = "strip_depth"  # of a window: tape reading
    AS1_DEPTH = "as1_depth"  # of a window: tape reading, or "no line"
    SEAT_HEIGHT = "strip_above_seat"  # of a window: tape reading
    FACTORY_GLASS = "factory_glass"  # of a window: yes or no
    GLASS_THERE = "glass_there"  # of the vehicle: are there panes at this position
    MIRRORS = "mirrors_both_sides"  # of the vehicle: yes or no
    MODEL_YEAR = "model_year"  # of the vehicle
    REGISTERED_AS = "registered_as"  # of the vehicle: one of RegisteredAs
    FILM_REFLECTANCE = "film_reflectance"  # of the film: percent, from its sheet
    FILM_FINISH = "film_finish"  # of the film: metallic or mirrored to the eye, yes or no
    FILM_COLOUR = "film_colour"  # of the film: colours of the closed list
    BUILT_AS = "built_as"  # of the vehicle: persons, truck chassis, parts for off-road use
    LAW = "law"  # of the record: a field that somebody must look up and confirm


@dataclass(frozen=True)
class Question:
    """A missing fact that could change the answer, with the place where it is answered."""

    asks: Asks
    text: str
    window_id: str = ""
    position: Position | None = None
    law_field: str = ""
    film_id: str = ""
    fact: str = ""  # which of the vehicle's facts, where the kind leaves that open


@dataclass(frozen=True)
class PaneFacts:
    """What is known of a pane as planned; None where nobody said."""

    position: Position
    film: Film | None
    combined: Combined | None  # with the film; None while the glass is unknown
    bare: Combined | None = None  # as it stands without the new film
    id: str = field(default="", compare=False)
    label: str = field(default="", compare=False)
    doubt: str = field(default="", compare=False)  # why what was read of its glass is not taken
    old_layers: int = 0  # sheets of film that stay on it under the new one
    window_reflectance: float | None = None  # glass and film together, from outdoors
    is_strip: bool = False
    strip_depth: float | None = None  # mm from the top of the glass
    as1_depth: float | None = None  # mm from the top of the glass
    as1_mark: bool | None = None  # False where the glass bears no such line
    strip_above_seat: float | None = None  # mm from the undepressed driver's seat to the strip
    factory_glass: bool | None = None  # made dark in the factory

    @property
    def layers(self) -> int:
        """Sheets of film on the pane when done."""
        return self.old_layers + (self.film is not None)

    @property
    def as_metered(self) -> Combined | None:
        """What a meter is held to: a strip counts on side and rear glass, at a windshield's top it does not."""
        at_top = self.is_strip and self.position is Position.WINDSHIELD
        return self.bare if at_top or self.film is None else self.combined

    @property
    def in_view(self) -> Combined | None:
        """What the main field of the pane passes: under a strip, the bare glass."""
        return self.bare if self.is_strip or self.film is None else self.combined


@dataclass(frozen=True)
class CarFacts:
    """What is known of the vehicle; its panes so that one can depend on another."""

    vehicle_class: VehicleClass
    mirrors_both_sides: bool | None = None
    model_year: int | None = None
    registered_as: RegisteredAs | None = None
    persons: int | None = None  # that it is made to carry, the driver included
    truck_chassis: bool | None = None
    off_road_parts: bool | None = None
    no_glass_at: frozenset[Position] = frozenset()
    panes: tuple[PaneFacts, ...] = field(default=())

    @cached_property
    def first_alike(self) -> tuple[PaneFacts, ...]:
        """For each pane the first one with the same facts: pairs are judged alike, once."""
        seen: dict[PaneFacts, PaneFacts] = {}
        return tuple(seen.setdefault(pane, pane) for pane in self.panes)

    def at(self, positions: Collection[Position], *, but: PaneFacts | None = None) -> list[PaneFacts]:
        """Panes at the positions, one left out."""
        return [pane for pane in self.panes if pane.position in positions and pane is not but]

    def not_listed(self, positions: Collection[Position]) -> list[Position]:
        """Positions of which no pane is listed and nobody said that there is none."""
        listed = {pane.position for pane in self.panes}
        return [p for p in Position if p in positions and p not in listed and p not in self.no_glass_at]
