"""Heat: speed figures against their aims, the table of the demo's and shelf's glass, and the drawings of the guide.

Makes docs/heat-table.md and docs/guide/heat-*.svg. Run by ./elumbra bench, or by itself: python benchmarks/heat.py.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

import numpy as np

from elumbra.car.glass_shelf import measured
from elumbra.core.film import Film
from elumbra.core.geom import span_at
from elumbra.core.glass import Curve, Position, WindowKind
from elumbra.core.law import VehicleClass
from elumbra.core.measure import Level, Measures, Reading
from elumbra.core.shrink import (
    Field,
    Unrolled,
    densified,
    field_of,
    required_of_each,
)
from elumbra.core.units import format_inches
from elumbra.core.work import (
    Car,
    HeatView,
    Job,
    Vehicle,
    Window,
    heat_view,
    in_strips,
    interval_words,
    look_over,
    percent,
    window_shrinking,
)
from elumbra.core.work import heat as core_heat
from elumbra.core.work import laid as core_laid
from elumbra.documents.shelf import pane_measures
from elumbra.made_up_glass import made_up_shelf
from elumbra.storage.data_files import starting_values
from tests.catalogue.barrels import BACK, CROWNS, bowl_of, chart_of, crown_readings, tape_readings
from tests.catalogue.law import LAW
from tests.catalogue.panes import film

START = starting_values()
GOOD, POOR = film(id="good", shrink_limit_percent=3.0), film(id="poor", shrink_limit_percent=1.5)


def forget() -> None:
    """What the core keeps of panes it has seen is dropped, so that every run works it out."""
    for kept in (core_laid.lay, core_laid.most_needed, in_strips.strips_of, core_laid._flattened):
        kept.cache_clear()


def back(name: str) -> Measures:
    """A back glass as a tape reads it."""
    bowl = bowl_of(BACK, *CROWNS[name])
    lengths = {**tape_readings(chart_of(BACK, bowl), bowl), **crown_readings(bowl, BACK)}
    readings = {key: Reading(f"{mm} mm", float(mm)) for key, mm in lengths.items()}
    return Measures(level=Level.CURVE, curve=Curve.STRONG, readings=readings)


def car_of(*windows: Window, films: tuple[Film, ...] = (GOOD, POOR)) -> Car:
    """A car that no law is asked of."""
    vehicle = Vehicle(label="v", vehicle_class=VehicleClass.PASSENGER, states=("TX",))
    return look_over(Job(vehicle, windows, {one.id: one for one in films}), LAW, starting=START, judged=False)


def window_of(measures: Measures, *, label: str = "Back glass", kind: WindowKind = WindowKind.BACK_GLASS) -> Window:
    return Window(
        id=label, label=label, kind=kind, position=Position.REAR_WINDOW, measures=measures, film_id="good",
        bare_vlt_percent=75.0,
    )  # fmt: skip


def timed(work: Callable[[], object], *, times: int = 9) -> float:
    """Median milliseconds, nothing kept from before."""
    taken = []
    for _ in range(times):
        forget()
        begin = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - begin))
    return statistics.median(taken)


def show(what: str, value: float, aim: float) -> None:
    print(f"{what:<64} {value:9.1f} ms   aim {aim:g} ms, ratio {value / aim:.2f}", flush=True)


def figures() -> None:
    """The speed of what the screen asks."""
    for name in ("70/25", "150/50"):
        car = car_of(window_of(back(name)))
        laid = window_shrinking(car, "Back glass").laid

        def field(laid: core_laid.Laid = laid) -> Field:
            return field_of(laid.on.glass, laid.anchor, laid.piece, columns=200, rows=200)

        show(f"200 x 200 field, back glass {name}", timed(field), 150)

        def view(car: Car = car) -> HeatView:
            return heat_view(car, "Back glass", window_shrinking(car, "Back glass"))

        show(f"whole Heat view, back glass {name}", timed(view), 300)
    cars = [[window for window, _ in shelf_windows(number)] for number in range(12)]
    panes = max(cars, key=lambda car: sum(window.measures.curve is not Curve.FLAT for window in car))

    def patterns() -> None:
        for window in panes:
            car = car_of(window)
            window_shrinking(car, window.id).flatten(densified(car.panes[window.id].outline.ring, 15.0))

    show(f"flat pattern of all {len(panes)} panes of a car", timed(patterns, times=5), 1000)


def shelf_windows(number: int) -> Iterator[tuple[Window, str]]:
    """The panes of a car of the shelf that are measured by themselves, as windows."""
    car = made_up_shelf().cars[number]
    for pane in car.panes:
        if pane.same_as is not None or measured(pane, starting=START).outline is None:
            continue
        measures = pane_measures(pane)
        yield window_of(measures, label=pane.label, kind=pane.kind), car.name


TABLE_HEAD = """# What must shrink on the made-up glass

Made by `benchmarks/heat.py` from the first 12 cars of the glass shelf and the five back glasses of the tests
(crowns across / up in mm over the whole pane), film of 3 %. Best line: height of the cross line above the foot, in
the middle and near the sides. Naive: the cross line halfway up. Square on, laid out: how far a picture of the pane,
or its drawing laid out circle by circle, is from the true pattern.

| glass | largest shrink | poor film 1.5 % | film 3 % | best line | naive line | turned | square on | laid out |
| --- | --- | --- | --- | --- | --- | --- | --- | --- |
"""


def row(label: str, window: Window) -> str | None:
    car = car_of(window)
    shrunk = window_shrinking(car, window.id)
    view = heat_view(car, window.id, shrunk)
    if view.projection is None or view.developed is None:
        return None
    measuring = view.laid.on.measuring(Unrolled.ACROSS)
    (naive,) = required_of_each(view.laid.on.glass, [measuring.anchor_at(measuring.most() / 2)], segment=30.0)
    turned = core_laid.lay(shrunk.on, Unrolled.UP)
    poor = core_heat.film_bears(POOR, starting=START).word(view.verdict.shrink.high)
    sides = " and ".join(format_inches(one) for one in view.placed.sides)
    return (
        f"| {label} | {interval_words(view.verdict.shrink)} | {poor.value} | {view.verdict.word.value} | "
        f"{format_inches(view.placed.middle)} in ({sides}) | {percent(naive.largest) if naive else '-'} % | "
        f"{percent(turned.shrink.value)} % | {view.projection.largest:.1f} mm | {view.developed.largest:.1f} mm |"
    )


def table() -> None:
    rows = [row(f"back glass {name}", window_of(back(name))) for name in CROWNS]
    for number in range(12):
        rows += [row(f"{name}, {window.label.lower()}", window) for window, name in shelf_windows(number)]
    told = [one for one in rows if one]
    text = (
        TABLE_HEAD
        + "\n".join(told)
        + f"\n\n{len(rows) - len(told)} further panes are called flat: nothing to shrink.\n"
    )
    (ROOT / "docs" / "heat-table.md").write_text(text, encoding="utf-8")


def svg(name: str, title: str, parts: list[str], width: float, height: float) -> None:
    head = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {height:.0f}" width="720">'
    style = '<rect width="100%" height="100%" fill="#f8f5ee"/>'
    text = f"{head}<title>{title}</title>{style}{''.join(parts)}</svg>\n"
    (ROOT / "docs" / "guide" / f"{name}.svg").write_text(text, encoding="utf-8")


def drawings() -> None:
    """The three of the installer's page, all from one back glass of 100/35."""
    car = car_of(window_of(back("100/35")))
    view = heat_view(car, "Back glass", window_shrinking(car, "Back glass"))
    low = view.outline.min(axis=0) - 40
    size = np.ptp(view.outline, axis=0) + 80

    def points(ring: np.ndarray) -> str:
        return " ".join(f"{x - low[0]:.1f},{size[1] - (y - low[1]):.1f}" for x, y in np.asarray(ring))

    def line(ring: np.ndarray, ink: str, wide: float, *, closed: bool = False) -> str:
        tag = "polygon" if closed else "polyline"
        return f'<{tag} points="{points(ring)}" fill="none" stroke="{ink}" stroke-width="{wide}"/>'

    def words(at: np.ndarray, said: str, *, big: float = 26) -> str:
        x, y = at[0] - low[0], size[1] - (at[1] - low[1])
        return (
            f'<text x="{x:.0f}" y="{y:.0f}" font-family="sans-serif" font-size="{big}" text-anchor="middle" '
            f'fill="#1f1b16">{said}</text>'
        )

    pane = line(view.outline, "#1f1b16", 5, closed=True)
    left, right = span_at(view.outline, 1, 0.0)
    cross = line(np.array([[left, 0.0], [right, 0.0]]), "#9a4d00", 9)
    sides = [
        line(np.array([[at, span_at(view.outline, 0, at)[0]], [at, span_at(view.outline, 0, at)[1]]]), "#1f1b16", 7)
        for at in view.plan.side_lines
    ]
    fingers = [line(np.array([one.start, one.end]), "#3d3650", 5) for one in view.fingers]
    svg("heat-h", "The H and the fingers it leaves", [pane, *fingers, *sides, cross], size[0], size[1])
    levels = [line(part, "#9a4d00", 2 + 200 * one.shrink) for one in view.contours for part in one.lines]
    told = [words(part[len(part) // 2], f"{percent(one.shrink)} %") for one in view.contours for part in one.lines]
    svg("heat-map", "What must go, in percent", [pane, *levels, cross, *told], size[0], size[1])
    bites = [line(one.ring, "#6b6256", 2, closed=True) for one in view.bites]
    numbers = [words(one.ring.mean(axis=0), str(one.number), big=44) for one in view.bites]
    svg("heat-order", "The order of heat", [pane, *bites, *sides, cross, *numbers], size[0], size[1])


if __name__ == "__main__":
    figures()
    table()
    drawings()
