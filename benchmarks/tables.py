"""Makes docs/measurements.md: rates of finding slips, and film cost against the customary ways."""

from __future__ import annotations

import json
import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from elumbra.core.errors import ReadingError
from elumbra.core.glass import Barrel, Curve
from elumbra.core.measure import Closing, CornerFit, Figure, Level, Measures, Reading, measure_pane, plan_of
from elumbra.documents.job_file import FORMAT_VERSION, parse_job_file
from elumbra.storage.data_files import law_file, read_data, starting_values
from elumbra.tasks.plan import final_plan
from tests.catalogue.barrels import BACK, CROWNS, DOOR, apart, bowl_of, chart_of, crown_readings, tape_readings
from tests.catalogue.panes import INCH, QUADS, SIX

TRIALS = 12
START = starting_values()
SIGMA = INCH / 16
GAP_SIGMA = START["crown_gap_sigma_mm"]
FLAT = Barrel()


@dataclass(frozen=True)
class Case:
    """A pane whose every length is known."""

    curve: Curve
    lengths: dict[str, float]
    crowns: dict[str, float]


def case(corners: np.ndarray, curve: Curve, gaps: tuple[float, float] | None = None) -> Case:
    """A pane as a barrel, its foot level, the widest circle midway; gaps over the whole of it [mm]."""
    wide = float(np.ptp(corners[:, 0]))
    bowl = bowl_of(corners, *gaps) if gaps else None
    barrel = Barrel(1 / bowl.across, 1 / bowl.up) if bowl else FLAT
    middle = [wide / 2, corners[2:, 1].mean() / 2]
    chart = barrel.charted(corners - middle)

    def place(which: tuple[int, ...]) -> np.ndarray:
        return chart[which[0]] if len(which) == 1 else barrel.paths(chart[which[0]], chart[which[1]]).at(0.5)

    lengths = {key: float(barrel.tape(place(a), place(b))) for key, (a, b) in plan_of(Figure.FOUR).all.items()}
    return Case(curve, lengths, crown_readings(bowl, corners) if bowl else {})


CASES = {
    "flat": [case(QUADS[name], Curve.FLAT) for name in ("front door", "rear door", "back glass")],
    "curved": [
        case(DOOR, Curve.BOTH_WAYS, (6.0, 14.0)),
        case(BACK, Curve.BOTH_WAYS, CROWNS["70/25"]),
        case(BACK, Curve.STRONG, CROWNS["150/50"]),
    ],
}


class Survey:
    """One survey of a pane with a tape's spread; a further reading is drawn once and stays."""

    def __init__(self, of: Case, rng: np.random.Generator, slipped: str = "", slip: float = 0.0) -> None:
        self.of = of
        self.keys = list(SIX)
        self.off = {key: float(rng.normal(0, SIGMA)) for key in of.lengths}
        if slipped:
            self.off[slipped] += slip * INCH * float(rng.choice([-1, 1]))
        self.crowns = {
            key: mm if key.endswith("chord") else max(0.0, mm + float(rng.normal(0, GAP_SIGMA)))
            for key, mm in of.crowns.items()
        }

    def fit(self) -> CornerFit | None:
        """Corners as they stand now; None where no pane has such readings."""
        taken = {key: round((self.of.lengths[key] + self.off[key]) / INCH * 16) / 16 * INCH for key in self.keys}
        readings = {key: Reading(str(mm / INCH), mm) for key, mm in (taken | self.crowns).items()}
        level = Level.CURVE if self.crowns else Level.SHAPE
        try:
            return measure_pane(Measures(level, Figure.FOUR, self.of.curve, readings), starting=START).fit
        except ReadingError:
            return None


def slip_rates(kind: str, slip: float, key: str, rng: np.random.Generator) -> tuple[float, ...]:
    """Shares of trials: amber or worse, alarm, named rightly and wrongly with up to three further readings."""
    told = alarmed = named = wrong = 0
    for of in CASES[kind]:
        for _ in range(TRIALS):
            survey = Survey(of, rng, key, slip)
            fit = survey.fit()
            if fit is not None and fit.closing is Closing.CLOSES:
                continue
            told += 1
            alarmed += fit is None or fit.alarm
            for _ in range(3):
                if fit is None or fit.culprit or fit.ask_for is None:
                    break
                survey.keys.append(fit.ask_for)
                fit = survey.fit()
            if fit and fit.culprit:
                named += fit.culprit.key == key
                wrong += fit.culprit.key != key
    total = TRIALS * len(CASES[kind])
    return told / total, alarmed / total, named / total, wrong / total


def slips() -> list[str]:
    rng = np.random.default_rng(11)
    lines = [
        "## Slips put into every reading", "",
        f"{len(CASES['flat'])} panes a kind, {TRIALS} trials each, tape sigma 1/16 in, readings to a sixteenth, gaps to "
        "1/32 in; amber from 1.5, alarm from 3 sigma. Named: after up to three further readings of the program's "
        "choice. Shares of all trials; detected counts amber.", "",
        "| slip | reading | flat: detected | alarm | named rightly | wrongly | curved: detected | alarm | named rightly | wrongly |",
        "| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |",
    ]  # fmt: skip
    for slip in (0.25, 0.5, 1.0):
        for key in SIX:
            shares = [*slip_rates("flat", slip, key, rng), *slip_rates("curved", slip, key, rng)]
            cells = " | ".join(f"{one:.0%}" for one in shares)
            lines.append(f"| {slip:g} in | {key.replace('_', ' ')} | {cells} |")
    return lines


def false_alarms() -> list[str]:
    rng = np.random.default_rng(12)
    lines = [
        "", "## Honest surveys that are doubted", "",
        "1,000 surveys each without any slip. By chance alone 13.4 % lie beyond 1.5 sigma and 0.27 % beyond 3.", "",
        "| pane | amber | alarm |", "| --- | --- | --- |",
    ]  # fmt: skip
    names = ("flat back glass", "door, gaps 6/14 mm", "back glass, 70/25 mm", "strongly curved back glass, 150/50 mm")
    for name, of in zip(names, [CASES["flat"][2], *CASES["curved"]], strict=True):
        found = [fit.closing for _ in range(1000) if (fit := Survey(of, rng).fit())]
        amber, alarm = (found.count(one) / 1000 for one in (Closing.AMBER, Closing.ALARM))
        lines.append(f"| {name} | {amber:.1%} | {alarm:.1%} |")
    return lines


def unseen() -> list[str]:
    lines = [
        "", "## What no tape shows", "",
        "Exact readings of a back glass of 1,300 by 640 mm on a barrel whose widest circle lies off the middle, or "
        "whose foot is out of level: all closes, and the corners are off by this many mm. The last column is what the "
        "outline carries in its spread (95 %).", "",
        "| gaps across/up, mm | circle +80 mm | circle −80 mm | foot +4° | foot −4° | carried |",
        "| --- | --- | --- | --- | --- | --- |",
    ]  # fmt: skip
    for crowns, gaps in CROWNS.items():
        bowl = bowl_of(BACK, *gaps)
        found, carried = [], 0.0
        for widest, tilt in ((80, 0), (-80, 0), (0, 4), (0, -4)):
            chart = chart_of(BACK, bowl, widest_above_middle=widest, tilt_degrees=tilt)
            taken = tape_readings(chart, bowl) | crown_readings(bowl, BACK)
            readings = {key: Reading(str(mm), mm) for key, mm in taken.items()}
            fit = measure_pane(Measures(Level.CURVE, Figure.FOUR, Curve.BOTH_WAYS, readings), starting=START).fit
            assert fit is not None
            found.append(apart(fit.corners, bowl.laid_out(chart)))
            carried = fit.unseen_mm
        lines.append(f"| {crowns} | {' | '.join(f'{one:.1f}' for one in found)} | {carried:.1f} |")
    return lines


def costs() -> list[str]:
    demo = read_data("demo.json")
    lines = [
        "", "## Film cost of the demo vehicles", "",
        "Dollars of new film; pieces for which the rack has no film are left out of every column. "
        "A dash: no single roll holds all pieces, or a roll runs out.", "",
        "| vehicle | film | this plan | narrowest roll each | single cheapest roll | free-layout bound | area over width | proven |",
        "| --- | --- | --- | --- | --- | --- | --- | --- |",
    ]  # fmt: skip
    films = [{k: v for k, v in film.items() if k != "price_per_m2"} for film in demo["films"]]
    for job in demo["jobs"][:6]:
        for window in job["job"]["windows"]:
            if window.get("film"):  # what a wish would cost is counted also where the law holds it from the cut
                window["reason"] = {"kind": "off_road_or_show", "film": window["film"], "wish": "", "document": "table"}
        document = {
            "format": "elumbra-job", "format_version": FORMAT_VERSION, "job": job["job"], "films": films,
            "stock": [stock_part(row) for row in demo["stock"]],
        }  # fmt: skip
        plan = final_plan(parse_job_file(json.dumps(document).encode()), law_file(), START, today="2026-11-24")
        for film in plan.films:
            cells = [s.new_film if s else None for s in (film.score, film.baseline_narrowest, film.baseline_single)]
            money = [f"{c:.2f}" if c is not None else "–" for c in cells] + [
                f"{film.bound_free:.2f}",
                f"{film.bound_area:.2f}",
            ]
            lines.append(
                f"| {plan.vehicle} | {film.film_name} | {' | '.join(money)} | {'yes' if film.proven else 'no'} |"
            )
    return lines


def stock_part(row: dict[str, object]) -> dict[str, object]:
    """Demo stock as it stands in a job file."""
    from elumbra.core.units import parse_length

    area = parse_length(str(row["width"])).mm * parse_length(str(row["full_length"])).mm / 1e6
    part = {key: row[key] for key in ("id", "kind", "label", "width", "lot", "liner")}
    return part | {
        "film": row["film_id"],
        "length": row["length_left"],
        "price_per_m2": float(str(row["price"])) / area,
    }


if __name__ == "__main__":
    head = ["# Measurements", "", "Made by `benchmarks/tables.py` from the code and the demo shop.", ""]
    (ROOT / "docs" / "measurements.md").write_text(
        "\n".join([*head, *slips(), *false_alarms(), *unseen(), *costs()]) + "\n", encoding="utf-8"
    )
