"""What no pane can have, refused where it is read."""

from __future__ import annotations

from functools import cache
from itertools import combinations, pairwise

from elumbra.core.errors import ReadingError
from elumbra.core.measure.figures import Figure, label, plan_of
from elumbra.core.measure.readings import MAY_BE_ZERO, MOST_GAP, Readings, corner_names, edges, known_keys
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches


def not_a_reading(key: str, figure: Figure) -> str:
    """Why a reading has no place on a pane."""
    if figure is Figure.DRAWN:
        return f"“{key}” is not a reading of a drawn outline."
    return f"“{key}” is not a reading of a {figure.value}-cornered pane."


def check_readings(readings: Readings, *, figure: Figure, starting: StartingValues) -> None:
    """Refuse readings that no pane can have, all at once and each by its key.

    Raises
    ------
    ReadingError
        ``fields`` names each impossible reading with the reason and the mend.
    """
    fields: dict[str, str] = {}
    allowed = known_keys(figure)
    for key, reading in readings.items():
        if key not in allowed:
            fields[key] = not_a_reading(key, figure)
        elif problem := _single_problem(key, reading.mm, longest=starting["reading_max_mm"]):
            fields[key] = problem
    if not fields:
        slack = starting["misclosure_alarm_sigma"] * starting["tape_sigma_mm"]
        fields |= _triangle_problems(readings, figure=figure, slack=slack)
        fields |= _edge_problems(readings, figure=figure)
        fields |= _crown_problems(readings)
    if fields:
        key, sentence = next(iter(fields.items()))
        raise ReadingError(f"{label(key).capitalize()}: {sentence}", fields=fields)


def _single_problem(key: str, mm: float, *, longest: float) -> str | None:
    may_be_zero = key.startswith(("bow_", "radius_", "more_", "less_")) or key in MAY_BE_ZERO
    if not mm >= 0 or (mm == 0 and not may_be_zero):
        return "A pane's size is more than nothing. Read it again."
    if mm > longest:
        return (
            f"{format_inches(mm)} in is longer than any car glass ({format_inches(longest)} in at most). "
            "Feet typed for inches?"
        )
    return None


def _triangle_problems(readings: Readings, *, figure: Figure, slack: float) -> dict[str, str]:
    """No side of a triangle of readings is longer than the other two together."""
    fields: dict[str, str] = {}
    for triangle in _triangles(figure):
        if not all(key in readings for key in triangle):
            continue
        longest = max(triangle, key=lambda key: readings[key].mm)
        first, second = (key for key in triangle if key != longest)
        most = readings[first].mm + readings[second].mm
        if readings[longest].mm > most + slack:
            fields.setdefault(
                longest,
                f"{format_inches(readings[longest].mm)} in cannot be: {label(first)} and {label(second)} together "
                f"reach only {format_inches(most)} in. Read all three again.",
            )
    return fields


@cache
def _triangles(figure: Figure) -> tuple[tuple[str, str, str], ...]:
    """Every three readings that join the same three corners."""
    between = {frozenset(near + far): key for key, (near, far) in plan_of(figure).all.items() if len(near + far) == 2}
    found = []
    for three in combinations(range(figure.corners), 3):
        keys = [between.get(frozenset(pair)) for pair in combinations(three, 2)]
        if all(keys):
            found.append((str(keys[0]), str(keys[1]), str(keys[2])))
    return tuple(found)


def _crown_problems(readings: Readings) -> dict[str, str]:
    """A gap that its straightedge cannot have."""
    fields: dict[str, str] = {}
    for way in ("crown_across", "crown_up"):
        chord = readings.get(f"{way}_chord") or readings.get("width" if way == "crown_across" else "height")
        for key in (way, *(f"{way}_{end}" for end in ("left", "right", "foot", "head"))):
            gap = readings.get(key)
            if gap and chord and gap.mm > MOST_GAP * chord.mm:
                most = format_inches(MOST_GAP * chord.mm)
                fields[key] = (
                    f"A gap over a quarter of the distance read ({most} in) is no car glass. "
                    "Read the gap and the distance again."
                )
    return fields


def _edge_problems(readings: Readings, *, figure: Figure) -> dict[str, str]:
    fields: dict[str, str] = {}
    names = edges(figure)
    for edge in names:
        bow, chord = readings.get(f"bow_{edge}"), readings.get(edge)
        if bow and chord and bow.mm > chord.mm / 4:
            fields[f"bow_{edge}"] = (
                f"A bow over a quarter of its edge ({format_inches(chord.mm / 4)} in) is no car glass."
            )
    around = pairwise((*names[-1:], *names))
    for corner, (before, after) in zip(corner_names(figure), around, strict=True):
        radius = readings.get(f"radius_{corner}")
        sides = [readings[edge].mm for edge in (before, after) if edge in readings]
        if radius and sides and radius.mm > min(sides) / 2:
            fields[f"radius_{corner}"] = f"At most half its shorter edge: {format_inches(min(sides) / 2)} in."
    return fields
