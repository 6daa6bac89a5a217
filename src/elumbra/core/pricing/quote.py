"""A quote: its lines from the car as it was surveyed and chosen, its versions, and what changed between them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.pricing.prices import PriceList, dollars
from elumbra.core.removal import Advice
from elumbra.core.survey import car_follows
from elumbra.core.work import Car, Ordered, Window, comes_off, follows_of, is_off

_MINUTES_LEAST = 1.0


class PricedFor(StrEnum):
    """What a line is for."""

    FILM = "film"
    REMOVAL = "removal"
    EXTRA = "extra"  # further work that the survey found
    OWN = "own"  # typed by the shop: a discount, a courtesy
    TAX = "tax"


@dataclass(frozen=True)
class Line:
    """One line; money in cents."""

    key: str
    kind: PricedFor
    words: str
    cents: int
    window_id: str = ""
    why: str = ""


@dataclass(frozen=True)
class OwnLine:
    """A line that somebody typed; what is taken off is below nothing."""

    words: str
    cents: int


def price_lines(
    car: Car, prices: PriceList, removals: Mapping[str, Advice], own: Sequence[OwnLine] = ()
) -> tuple[Line, ...]:
    """The lines of a car as it stands.

    Parameters
    ----------
    car
        The looked-over car; windows without film cost nothing unless old film comes off.
    prices
        The shop's price list.
    removals
        By window whose old film comes off, its ways; the dearer end of the chosen one is offered, so that the
        bill is never higher than the quote.
    own
        Lines that somebody typed.
    """
    lines: list[Line] = []
    for window in car.job.windows:
        if window.film_id is not None:
            lines.append(_film_line(car, window, prices))
        if window.id in removals and comes_off(window) and not is_off(window):
            lines.append(_removal_line(window, removals[window.id]))
        lines += _extra(window.label, window.id, follows_of(window), prices) if window.film_id is not None else []
    lines += _extra("The car", "", car_follows(car.job.vehicle.findings), prices)
    lines += [Line(f"own:{i}", PricedFor.OWN, one.words, one.cents) for i, one in enumerate(own)]
    tax = round(sum(one.cents for one in lines) * prices.tax_percent / 100)
    if tax:
        lines.append(Line("tax", PricedFor.TAX, f"Tax, {prices.tax_percent:g} %", tax))
    return tuple(lines)


def _film_line(car: Car, window: Window, prices: PriceList) -> Line:
    film = car.job.films[window.film_id or ""]
    base = prices.strip if window.is_strip else prices.windows[window.kind]
    factor = prices.factor(film.id, film.construction)
    what = "a strip at the top" if window.is_strip else "whole pane"
    why = f"{dollars(base)} for {window.kind.value.replace('_', ' ')}, times {factor:g} for {film.construction.value}"
    return Line(f"film:{window.id}", PricedFor.FILM, f"{window.label}: {film.name}, {what}", round(base * factor),
                window.id, why)  # fmt: skip


def _removal_line(window: Window, advice: Advice) -> Line:
    chosen = next((one for one in advice.ranked if one.way is window.strip_way), advice.ranked[0])
    why = f"{chosen.price.low:.0f} to {chosen.price.high:.0f} $ by {chosen.words}; the dearer end is offered"
    return Line(
        f"removal:{window.id}", PricedFor.REMOVAL, f"{window.label}: old film off", round(chosen.price.high * 100),
        window.id, why,
    )  # fmt: skip


def _extra(label: str, window_id: str, follows: Sequence[object], prices: PriceList) -> list[Line]:
    """Further minutes and dollars that findings ask for, one line a window."""
    found = [one.what for one in follows if one.what.minutes or one.what.dollars]  # type: ignore[attr-defined]
    minutes, money = sum(one.minutes for one in found), sum(one.dollars for one in found)
    cents = round(minutes * prices.minute + 100 * money)
    if not cents or (minutes < _MINUTES_LEAST and not money):
        return []
    why = "; ".join(dict.fromkeys(one.words for one in found))
    return [Line(f"extra:{window_id or 'car'}", PricedFor.EXTRA, f"{label}: further work", cents, window_id, why)]


def total(lines: Sequence[Line]) -> int:
    """What all lines come to [cents].

    Examples
    --------
    >>> total([]), total([Line("a", PricedFor.OWN, "courtesy", -500)])
    (0, -500)
    """
    return sum(one.cents for one in lines)


def scope_of(car: Car) -> dict[str, Ordered]:
    """What a car's film covers, by window."""
    return {window.id: window.as_ordered for window in car.job.windows if window.film_id}


def changes(before: Sequence[Line], after: Sequence[Line]) -> tuple[str, ...]:
    """What is different in a later version, in sentences.

    Examples
    --------
    >>> old = [Line("film:a", PricedFor.FILM, "Front: Any 35", 6000)]
    >>> new = [Line("film:a", PricedFor.FILM, "Front: Any 20", 7000), Line("own:0", PricedFor.OWN, "courtesy", -500)]
    >>> changes(old, new)
    ('Front: Any 35 became Front: Any 20, $60.00 to $70.00.', 'Added: courtesy, -$5.00.')
    >>> changes(new, new)
    ()
    """
    was, now = {one.key: one for one in before}, {one.key: one for one in after}
    told = []
    for key, one in now.items():
        old = was.get(key)
        if old is None:
            told.append(f"Added: {one.words}, {dollars(one.cents)}.")
        elif old.words != one.words:
            told.append(f"{old.words} became {one.words}, {dollars(old.cents)} to {dollars(one.cents)}.")
        elif old.cents != one.cents:
            told.append(f"{one.words}: {dollars(old.cents)} to {dollars(one.cents)}.")
    told += [f"Taken out: {one.words}, {dollars(one.cents)}." for key, one in was.items() if key not in now]
    return tuple(told)
