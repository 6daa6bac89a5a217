"""A quote: its lines from the car as it was surveyed and chosen, its versions, and what changed between them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from elumbra.core.pricing.prices import PricedFor, PriceList, dollars, half_away
from elumbra.core.removal import Advice
from elumbra.core.survey import car_follows
from elumbra.core.work import Car, Ordered, Window, comes_off, follows_of, is_off

_MINUTES_LEAST = 1.0


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


@dataclass(frozen=True)
class Agreed:
    """What was said to the customer already; it is not priced again."""

    accepted: Mapping[str, Line] = field(default_factory=dict)  # by key; of the version that was accepted
    removals: Mapping[str, Line] = field(default_factory=dict)  # by window: as it was offered or acknowledged last


def price_lines(
    car: Car,
    prices: PriceList,
    removals: Mapping[str, Advice],
    own: Sequence[OwnLine] = (),
    agreed: Agreed = Agreed(),
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
    agreed
        What was accepted keeps its cents, whatever the price list says later; old film that is off keeps the line by
        which its removal was offered or acknowledged.
    """
    lines: list[Line] = []
    for window in car.job.windows:
        if window.film_id is not None:
            lines.append(_film_line(car, window, prices, agreed))
        lines += _removal(window, removals, agreed)
        if window.film_id is not None:
            lines += _extra(window.label, window.id, follows_of(window), prices, agreed)
    lines += _extra("The car", "", car_follows(car.job.vehicle.findings), prices, agreed)
    lines += [Line(f"own:{i}", PricedFor.OWN, one.words, one.cents) for i, one in enumerate(own)]
    before = {key: one for key, one in agreed.accepted.items() if one.kind is not PricedFor.TAX}
    if before and before == {one.key: one for one in lines}:
        return (*lines, *(one for one in agreed.accepted.values() if one.kind is PricedFor.TAX))
    return (*lines, *tax_lines(lines, prices))


def tax_lines(lines: Sequence[Line], prices: PriceList) -> list[Line]:
    """The tax on lines, none where there is none.

    What is taken off is shared by all lines in proportion, the taxed ones get their share. The sum is rounded, or each
    line where the shop says so; a half away from zero.
    """
    whole = sum(one.cents for one in lines if one.cents > 0)
    if not whole or not prices.tax_percent:
        return []
    kept = max(Fraction(0), 1 + Fraction(sum(one.cents for one in lines if one.cents < 0), whole))
    taxed = [one.cents * kept for one in lines if one.cents > 0 and one.kind in prices.taxed]
    rate = Fraction(str(prices.tax_percent)) / 100
    tax = sum(half_away(one * rate) for one in taxed) if prices.tax_by_line else half_away(sum(taxed) * rate)
    if not tax:
        return []
    base = half_away(Fraction(sum(taxed)))
    of = "" if base == total(lines) else f" of {dollars(base)}"
    return [Line("tax", PricedFor.TAX, f"Tax, {prices.tax_percent:g} %{of}", tax)]


def _film_line(car: Car, window: Window, prices: PriceList, agreed: Agreed) -> Line:
    was = agreed.accepted.get(f"film:{window.id}")
    if was is not None and window.ordered == window.as_ordered:
        return was
    film = car.job.films[window.film_id or ""]
    base = prices.strip if window.is_strip else prices.windows[window.kind]
    factor = prices.factor(film.id, film.construction)
    what = "a strip at the top" if window.is_strip else "whole pane"
    why = f"{dollars(base)} for {window.kind.value.replace('_', ' ')}, times {factor:g} for {film.construction.value}"
    cents = half_away(base * Fraction(str(factor)))
    return Line(f"film:{window.id}", PricedFor.FILM, f"{window.label}: {film.name}, {what}", cents, window.id, why)


def _removal(window: Window, removals: Mapping[str, Advice], agreed: Agreed) -> list[Line]:
    """What the old film of a window costs to take off, or cost where it is off."""
    if not comes_off(window):
        return []
    was = agreed.accepted.get(f"removal:{window.id}")
    if was is None and is_off(window):
        was = agreed.removals.get(window.id)
    if was is not None:
        return [was]
    return [] if is_off(window) or window.id not in removals else [removal_line(window, removals[window.id])]


def removal_line(window: Window, advice: Advice) -> Line:
    """The line by which the removal of a window's old film is offered, at the dearer end of the chosen way."""
    chosen = next((one for one in advice.ranked if one.way is window.strip_way), advice.ranked[0])
    why = f"{chosen.price.low:.0f} to {chosen.price.high:.0f} $ by {chosen.words}; the dearer end is offered"
    return Line(
        f"removal:{window.id}", PricedFor.REMOVAL, f"{window.label}: old film off", round(chosen.price.high * 100),
        window.id, why,
    )  # fmt: skip


def _extra(
    label: str, window_id: str, follows: Sequence[object], prices: PriceList, agreed: Agreed = Agreed()
) -> list[Line]:
    """Further minutes and dollars that findings ask for, one line a window."""
    found = [one.what for one in follows if one.what.minutes or one.what.dollars]  # type: ignore[attr-defined]
    minutes, money = sum(one.minutes for one in found), sum(one.dollars for one in found)
    cents = round(minutes * prices.minute + 100 * money)
    if not cents or (minutes < _MINUTES_LEAST and not money):
        return []
    why = "; ".join(dict.fromkeys(one.words for one in found))
    line = Line(f"extra:{window_id or 'car'}", PricedFor.EXTRA, f"{label}: further work", cents, window_id, why)
    was = agreed.accepted.get(line.key)
    return [was if was is not None and was.why == why else line]


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


def difference(before: Sequence[Line], after: Sequence[Line]) -> str:
    """What a change comes to: new less old, its tax too; nothing where it comes to nothing.

    Examples
    --------
    >>> old = [Line("film:a", PricedFor.FILM, "Front", 6000), Line("tax", PricedFor.TAX, "Tax", 495)]
    >>> new = [Line("film:a", PricedFor.FILM, "Front", 7000), Line("tax", PricedFor.TAX, "Tax", 578)]
    >>> difference(old, new), difference(new, old), difference(old, old)
    ('$10.83 more, $0.83 of it tax', '$10.83 less, $0.83 of it tax', '')
    """
    more = total(after) - total(before)
    tax = [sum(one.cents for one in lines if one.kind is PricedFor.TAX) for lines in (before, after)]
    if not more:
        return ""
    of_it = f", {dollars(abs(tax[1] - tax[0]))} of it tax" if tax[1] != tax[0] else ""
    return f"{dollars(abs(more))} {'more' if more > 0 else 'less'}{of_it}"
