"""Conditions of the day: dose of soap, working area, heat, cure, and when it is no (handbook, sections 3 and 14).

The temperature that counts for the work is that of glass and shop, the forecast outside counts for the cure.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import ceil

from elumbra.core.errors import CoreError
from elumbra.core.starting import StartingValues


class SunSide(StrEnum):
    """Which side of the car the sun stands on."""

    NONE = "none"
    DRIVER = "driver"
    PASSENGER = "passenger"
    BACK = "back"


class DayError(CoreError):
    """A condition that no day has."""


@dataclass(frozen=True)
class Day:
    """What was read or typed; temperatures in °C, humidity a share; None where nobody read it."""

    glass_c: float | None = None
    shop_c: float | None = None
    humidity: float | None = None
    outside_low_c: float | None = None  # of the forecast for the days of the cure
    sun: SunSide = SunSide.NONE
    wind: bool = False  # or an open door

    def __post_init__(self) -> None:
        fields = {}
        for name in ("glass_c", "shop_c", "outside_low_c"):
            value = getattr(self, name)
            if value is not None and not -50 <= value <= 90:
                fields[name] = "A temperature between -50 and 90 °C (-58 and 194 °F)."
        if self.humidity is not None and not 0 <= self.humidity <= 1:
            fields["humidity"] = "Between 0 and 100 %."
        if fields:
            raise DayError(f"These conditions cannot be: {next(iter(fields.values()))}", fields=fields)

    @property
    def coldest(self) -> float | None:
        """The colder of glass and shop."""
        return min((one for one in (self.glass_c, self.shop_c) if one is not None), default=None)

    @property
    def warmest(self) -> float | None:
        """The warmer of the two."""
        return max((one for one in (self.glass_c, self.shop_c) if one is not None), default=None)


@dataclass(frozen=True)
class DayAnswer:
    """What the day asks for."""

    stop: str  # why no film goes on now; empty where it may
    told: tuple[str, ...]
    soap_ml: float  # a litre, for placing
    soap_rich_ml: float  # for cleaning
    temp: str  # as the steps ask: cold, fair, hot
    humid: bool
    cure_days: int
    area: str


def answer_of(day: Day, *, cold_school: str, starting: StartingValues) -> DayAnswer:
    """What the day changes, and whether film may go on at all.

    Parameters
    ----------
    day
        Conditions; an unread temperature counts as fair, and is said to be unread.
    cold_school
        ``stop`` under the lower limit, or ``more_heat`` down to near freezing.
    starting
        Limits and doses.
    """
    low = starting["film_cold_c"] if cold_school == "stop" else starting["film_near_freezing_c"]
    high, caution = starting["film_hot_stop_c"], starting["film_hot_c"]
    coldest, warmest = day.coldest, day.warmest
    told, stop = [], ""
    if coldest is not None and coldest < low:
        stop = (
            f"Too cold: {_both(coldest)} at {_where(day, coldest)}, film wants {_both(low)} or more. "
            "Warm shop and glass first."
        )
    elif warmest is not None and warmest > high:
        stop = (
            f"Too hot: {_both(warmest)} at {_where(day, warmest)}, film stops at {_both(high)}. "
            "Into the shade, cool the glass with water."
        )
    if warmest is not None and caution < warmest <= high:
        told.append(f"Hot: {_both(warmest)}. More soap, half the area at a time, water dries fast.")
    temp = "fair"
    if coldest is not None and coldest < starting["film_cool_c"]:
        temp = "cold"
        told.append(f"Cold: {_both(coldest)}. Less soap, more heat on edges, longer cure.")
    elif warmest is not None and warmest > caution:
        temp = "hot"
    if coldest is None:
        told.append("Nobody has read the temperature at the glass or in the shop: the dose is that of 20 °C.")
    humid = day.humidity is not None and day.humidity >= starting["humid_from"]
    dose = soap_ml(20.0 if coldest is None else coldest, humid=humid, starting=starting)
    cure = cure_days(day, starting=starting)
    frost = day.outside_low_c is not None and day.outside_low_c < 0
    if frost:
        told.append(f"Frost is forecast: the car stands in the warm for {cure} days, or the date moves.")
    return DayAnswer(
        stop=stop,
        told=tuple(told),
        soap_ml=dose,
        soap_rich_ml=dose * starting["soap_rich_share"],
        temp=temp,
        humid=humid,
        cure_days=cure,
        area="half a pane at a time" if temp == "hot" or humid else "a whole pane at a time",
    )


def _where(day: Day, value: float) -> str:
    return "the glass" if value == day.glass_c else "the shop"


def _both(celsius: float) -> str:
    return f"{celsius * 9 / 5 + 32:.0f} °F ({celsius:.0f} °C)"


def soap_ml(celsius: float, *, humid: bool, starting: StartingValues) -> float:
    """Dose of soap [ml per litre]: the middle figure at 20 °C, less in the cold, more in the heat.

    Straight between 10, 20 and 30 °C, level beyond (heart, section 0).
    """
    middle = starting["soap_ml_per_l"]
    cold, hot = middle * starting["soap_cold_share"], middle * starting["soap_hot_share"]
    if celsius <= 20:
        share = min(max((celsius - 10) / 10, 0.0), 1.0)
        dose = cold + (middle - cold) * share
    else:
        share = min((celsius - 20) / 10, 1.0)
        dose = middle + (hot - middle) * share
    return dose * (starting["soap_humid_share"] if humid else 1.0)


def cure_days(day: Day, *, starting: StartingValues) -> int:
    """Days that windows stay up: longer in the cold; the stricter figure where nobody knows the forecast.

    Of the two schools on frost the stricter holds: the whole band, not only no frost (handbook, section 14).
    """
    low = day.outside_low_c
    if low is None or low < starting["film_cool_c"]:
        return int(starting["cure_cold_days"])
    return int(starting["cure_days"])


SOAP_SHOWN: Mapping[str, str] = {"strokes": "strokes", "drops": "drops", "ml": "ml"}


def soap_words(ml_per_litre: float, shown: str, *, starting: StartingValues) -> str:
    """A dose in this shop's strokes or drops, ml a litre beside it.

    Parameters
    ----------
    ml_per_litre
        The dose.
    shown
        ``strokes`` of the soap pump for the tank, ``drops`` for the hand mister, or ``ml`` for the tank.
    starting
        Size of tank and mister, what a stroke and a drop give.
    """
    if shown == "drops":
        drops = max(1, ceil(ml_per_litre * starting["mister_l"] / starting["soap_drop_ml"] - 1e-9))
        return f"{drops} drops ({ml_per_litre:.1f} ml/l)"
    whole = ml_per_litre * starting["tank_l"]
    if shown == "ml":
        return f"{whole:.0f} ml ({ml_per_litre:.1f} ml/l)"
    strokes = max(1, round(whole / starting["soap_stroke_ml"]))
    return f"{strokes} stroke{'s' if strokes > 1 else ''} ({ml_per_litre:.1f} ml/l)"
