"""A glass shelf of made-up cars, the same from the same seed: what the demo shop starts with.

``python -m elumbra.made_up_glass`` writes ``data/shelf_demo.json`` anew. Every pane is a barrel
that somebody reads with a tape to a sixteenth; no size comes from a real car.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from random import Random
from typing import Any

import numpy as np

from elumbra.core.glass import Barrel, Curve, GlassType, WindowKind
from elumbra.core.measure import Figure, plan_of
from elumbra.core.units import MM_PER_INCH, format_inches
from elumbra.documents.shelf import CarPart, PanePart, ShelfFile, pane_part, to_bytes
from elumbra.storage import data_files

SEED = 20261125
CARS = 40
_INCH = float(MM_PER_INCH)
_TAPE_SIGMA_MM = 0.6
_FILE = Path(__file__).parent / "data" / "shelf_demo.json"
_FIRST = (
    "Fenwick", "Larkspur", "Tansy", "Morrow", "Drover", "Alder", "Bramble", "Corrie", "Dunlin", "Eyebright", "Foxglove",
    "Gannet", "Heron", "Isen", "Juniper", "Kestrel", "Linnet", "Mallow", "Nettle", "Osier", "Plover", "Quill",
    "Rowan", "Sorrel", "Teasel", "Umber", "Vetch", "Willet", "Yarrow", "Bittern", "Cinder", "Dapple",
)  # fmt: skip
_LAST = {
    "sedan": ("4", "LS", "Saloon", "S"),
    "coupe": ("GT", "coupe", "2"),
    "hatchback": ("5", "hatch", "mini"),
    "suv": ("SUV", "X", "trail"),
    "crew_cab": ("crew cab", "hauler", "1500"),
    "van": ("van", "cargo"),
    "side_by_side": ("dune", "rut"),
}
_DOORS = {"sedan": 4, "coupe": 2, "hatchback": 5, "suv": 5, "crew_cab": 4, "van": 4, "side_by_side": 2}
_STYLES = ("sedan",) * 4 + ("suv",) * 3 + ("coupe", "hatchback", "hatchback", "crew_cab", "crew_cab", "van")
_UNREAD = ("side_by_side",)
_PEOPLE = ("Ines Varga", "Tobi Lund", "Mara Quist")
_TRIMS = ("", "", "", "sport trim, lower roof", "long wheelbase", "panorama roof", "tow package", "two-tone")

Corners = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Shape:
    """A kind of pane laid out flat, seen from the driver's side: corners in mm, crowns in gaps over inches."""

    corners: Sequence[tuple[float, float]]
    bow: Mapping[str, float] | None = None  # mm
    radius: float = 0.0  # mm
    across_mm: tuple[float, float] | None = None  # radius of the widest circle, least and most; None: straight
    up_mm: tuple[float, float] | None = None


_DOOR_UP = (1500.0, 5000.0)
_SHAPES: Mapping[str, Shape] = {
    "driver_front": Shape([(0, 0), (960, 10), (890, 440), (330, 465)], {"top": 12}, up_mm=_DOOR_UP),
    "driver_rear": Shape([(0, 0), (770, 0), (610, 455), (25, 465)], up_mm=_DOOR_UP),
    "driver_quarter": Shape([(0, 0), (330, 10), (55, 300)], radius=25),
    "driver_cargo": Shape([(0, 0), (680, 0), (610, 400), (40, 415)], radius=45, up_mm=(2500, 9000)),
    "driver_slide": Shape([(0, 0), (820, 0), (815, 480), (5, 480)], radius=55, up_mm=(3000, 9000)),
    "driver_half_door": Shape([(0, 0), (700, 0), (600, 520), (120, 560)]),
    "back": Shape(
        [(0, 0), (1320, 0), (1140, 650), (180, 650)], {"bottom": 35, "top": 28}, 45, (3200, 9000), (1500, 5000)
    ),
    "strong_back": Shape(
        [(0, 0), (1240, 0), (1030, 720), (210, 720)], {"bottom": 30, "top": 22}, 60, (1400, 2600), (800, 2000)
    ),
    "hatch": Shape([(0, 0), (1240, 0), (1130, 490), (110, 490)], {"bottom": 22}, 55, (3500, 9000), (2500, 7000)),
    "cab_back": Shape([(0, 0), (1420, 0), (1350, 430), (70, 430)], radius=50, up_mm=(5000, 20000)),
    "rear": Shape([(0, 0), (1150, 0), (1100, 430), (50, 430)], radius=30),
    "windshield": Shape(
        [(0, 0), (1440, 0), (1190, 780), (250, 780)], {"bottom": 40, "top": 30}, 60, (2600, 5200), (3500, 9000)
    ),
    "flat_windshield": Shape([(0, 0), (1280, 0), (1180, 620), (100, 620)], radius=40),
    "slider_side": Shape([(0, 0), (470, 0), (440, 420), (30, 420)], radius=40),
    "slider_middle": Shape([(0, 0), (440, 0), (440, 420), (0, 420)], radius=10),
    "sunroof": Shape([(0, 0), (820, 0), (820, 430), (0, 430)], {"top": 14}, 60),
}
_OF_KIND = {
    (WindowKind.HATCH, "back"): "hatch",
    (WindowKind.BACK_GLASS, "van"): "rear",
    (WindowKind.BACK_GLASS, "crew_cab"): "cab_back",
}


def inches(mm: float) -> str:
    """A length as somebody reads it off a tape, to a sixteenth.

    Examples
    --------
    >>> inches(762.4), inches(1.0)
    ('30', '1/16')
    """
    return format_inches(round(mm / _INCH * 16) / 16 * _INCH)


def read_pane(corners: Corners, figure: Figure, barrel: Barrel, *, noise: Callable[[], float]) -> dict[str, str]:
    """Readings of a barrel whose foot is level and whose widest circle lies midway, tape on the glass.

    Parameters
    ----------
    corners
        Laid out flat, counter-clockwise from the bottom left, shape (n, 2) [mm].
    figure
        How many corners those are.
    barrel
        The glass they lie on.
    noise
        What a reading is off by [mm].
    """
    flat = np.asarray(corners, dtype=float)
    top = flat[2:, 1].mean()
    chart = barrel.charted(flat - [flat[:, 0].mean(), top / 2])
    found = {}
    for key, (near, far) in plan_of(figure).needed.items():
        found[key] = inches(float(barrel.tape(chart[near[0]], chart[far[0]])) + noise())
    return found


def read_crowns(corners: Corners, barrel: Barrel, *, noise: Callable[[], float]) -> dict[str, str]:
    """Both crowns as a straightedge shows them, gap and distance between the points read."""
    wide, high = (float(one) for one in np.ptp(corners, axis=0))
    found = {}
    for key, curvature, size in (("crown_across", barrel.across, 0.9 * wide), ("crown_up", barrel.up, 0.85 * high)):
        chord = round(size / _INCH) * _INCH
        gap = 0.0 if curvature == 0 else 1 / curvature - np.sqrt(1 / curvature**2 - chord**2 / 4)
        found[key] = inches(max(0.0, gap + noise() / 2))
        found[f"{key}_chord"] = inches(chord)
    return found


class _Maker:
    """Makes cars, one after another, from one seed."""

    def __init__(self, seed: int) -> None:
        self.chance = Random(seed)
        self.named: set[str] = set()

    def noise(self) -> float:
        return self.chance.gauss(0.0, _TAPE_SIGMA_MM)

    def car(self, style: str) -> CarPart:
        chance = self.chance
        name = self.name(style)
        rows = list(data_files.bodies()[style]["windows"])
        if style == "crew_cab" and chance.random() < 0.7:
            rows = [one for one in rows if one["key"] != "back"] + self.slider_rows()
        if style in ("suv", "sedan") and chance.random() < 0.35:
            rows += data_files.openings()["sunroof"]["windows"]
        first = chance.randrange(2009, 2025)
        places = {row["key"]: i for i, row in enumerate(rows)}
        size = chance.uniform(0.9, 1.1)
        return CarPart(
            name=name,
            years=f"{first}–{first + chance.randrange(2, 6)}",
            body=style,
            doors=_DOORS[style],
            trim=chance.choice(_TRIMS),
            panes=tuple(self.pane(row, style, size, places) for row in rows),
        )

    def name(self, style: str) -> str:
        while True:
            name = f"{self.chance.choice(_FIRST)} {self.chance.choice(_LAST[style])}"
            if name not in self.named:
                self.named.add(name)
                return name

    @staticmethod
    def slider_rows() -> list[dict[str, Any]]:
        return [dict(row) for row in data_files.openings()["sliding_rear"]["windows"]]

    def pane(self, row: Mapping[str, Any], style: str, size: float, places: Mapping[str, int]) -> PanePart:
        said: dict[str, Any] = {name: row[name] for name in ("label", "position", "side", "kind", "glass_type")}
        if said["glass_type"] == GlassType.UNKNOWN and style not in _UNREAD:
            said["glass_type"] = GlassType.TEMPERED.value  # whoever measured it read its mark
        said |= {"factory_glass": row["glass"] == "privacy", "made_up": True}
        said |= {"measured_by": self.chance.choice(_PEOPLE), "findings": self.findings(WindowKind(row["kind"]))}
        if row.get("same_as") in places:
            return pane_part(said | {"same_as": places[row["same_as"]], "curve": row["curve"]})
        return pane_part(said | self.measures(row, style, size))

    def measures(self, row: Mapping[str, Any], style: str, size: float) -> dict[str, Any]:
        chance = self.chance
        shape = _SHAPES[_shape_of(row, style)]
        stretch = np.array([size * chance.uniform(0.94, 1.06), size * chance.uniform(0.94, 1.06)])
        corners = np.array(shape.corners, dtype=float) * stretch
        barrel = Barrel(self.curvature(shape.across_mm), self.curvature(shape.up_mm))
        figure = Figure.THREE if len(corners) == 3 else Figure.FOUR
        readings = read_pane(corners, figure, barrel, noise=self.noise)
        names = plan_of(figure)
        for edge, bow in (shape.bow or {}).items():
            readings[f"bow_{edge}"] = inches(bow * chance.uniform(0.7, 1.3))
        if shape.radius:
            readings |= {
                f"radius_{corner}": inches(shape.radius * chance.uniform(0.7, 1.3)) for corner in names.corners
            }
        curve = row["curve"] if barrel != Barrel() else Curve.FLAT.value
        level = "shape"
        if curve in ("both_ways", "strong") or (curve == "one_way" and chance.random() < 0.3):
            readings |= read_crowns(corners, barrel, noise=self.noise)
            level = "curve"
        return {
            "figure": figure.value,
            "curve": curve,
            "level": level,
            "readings": {key: {"typed": typed} for key, typed in readings.items()},
        }

    def curvature(self, radii: tuple[float, float] | None) -> float:
        return 0.0 if radii is None else 1 / self.chance.uniform(*radii)

    def findings(self, kind: WindowKind) -> dict[str, Any]:
        chance = self.chance
        found: dict[str, Any] = {}
        if kind in (WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR):
            found["weather_strip"] = chance.choice(("easy", "tight", "leave"))
            found["panel"] = chance.choice(("plain", "plain", "leather", "electronics"))
            found["latch"] = "electric" if kind is WindowKind.FRAMELESS_DOOR else "hand"
            return found
        found["edge"] = "gasket" if kind is WindowKind.SLIDER and chance.random() < 0.3 else "border"
        if found["edge"] == "border":
            found |= {f"border_{edge}": inches(chance.uniform(12, 45)) for edge in ("top", "bottom", "left", "right")}
        if kind in (WindowKind.BACK_GLASS, WindowKind.HATCH):
            found |= self.at_back(kind)
        if kind is WindowKind.WINDSHIELD:
            found["mirror_mount"] = chance.choice(("slides", "clip", "bonded"))
        return found

    def at_back(self, kind: WindowKind) -> dict[str, Any]:
        chance = self.chance
        found: dict[str, Any] = {"defroster": "yes", "defroster_first": inches(chance.uniform(50, 90))}
        found |= {"defroster_pitch": inches(chance.uniform(26, 36)), "defroster_lines": str(chance.randrange(9, 16))}
        found["brake_light"] = chance.choice(("none", "before", "body", "shines"))
        if found["brake_light"] in ("before", "shines"):
            found |= {"brake_light_width": inches(chance.uniform(180, 320)), "brake_light_height": "1 1/4"}
            found["brake_light_from_top"] = inches(chance.uniform(0, 40))
        if kind is WindowKind.HATCH:
            found["wiper"] = chance.choice(("none", "off", "off"))
            if found["wiper"] == "off":
                found |= {"spindle_from_left": inches(chance.uniform(480, 640)), "spindle_from_foot": "2 1/2"}
        return found


def _shape_of(row: Mapping[str, Any], style: str) -> str:
    key, kind = str(row["key"]), WindowKind(row["kind"])
    if kind is WindowKind.SLIDER:
        return "slider_middle" if key == "m" else "slider_side"
    if kind is WindowKind.SUNROOF:
        return "sunroof"
    if kind is WindowKind.WINDSHIELD and style == "side_by_side":
        return "flat_windshield"
    if key == "back" and row["curve"] == Curve.STRONG.value:
        return "strong_back"
    return _OF_KIND.get((kind, style)) or _OF_KIND.get((kind, key)) or key


def made_up_shelf(seed: int = SEED, cars: int = CARS) -> ShelfFile:
    """A shelf of made-up cars that spans the handbook's kinds of glass, the same from the same seed."""
    maker = _Maker(seed)
    styles = ["side_by_side", *(maker.chance.choice(_STYLES) for _ in range(cars - 1))]
    return ShelfFile(cars=[maker.car(style) for style in styles])


if __name__ == "__main__":
    _FILE.write_bytes(to_bytes(made_up_shelf()))
