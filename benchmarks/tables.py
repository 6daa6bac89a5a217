"""Makes docs/measurements.md: rates of finding slips, and film cost against the customary ways."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from elumbra.core.measure import Figure, Reading, fit_corners
from elumbra.documents.job_file import parse_job_file
from elumbra.storage.data_files import law_file, read_data, starting_values
from elumbra.tasks.plan import final_plan
from tests.catalogue.panes import INCH, QUADS, SIX, true_lengths

TRIALS = 40
START = starting_values()
PANES = ("front door", "rear door", "back glass")


def noisy(keys: tuple[str, ...] | list[str], lengths: dict[str, float], drawn: dict[str, float]) -> dict[str, Reading]:
    """Readings with the tape's spread, to a sixteenth."""
    mm = {key: round((lengths[key] + drawn[key]) / INCH * 16) / 16 * INCH for key in keys}
    return {key: Reading(str(value / INCH), value) for key, value in mm.items()}


def slip_rates(slip: float, key: str, rng: np.random.Generator) -> tuple[float, float, float]:
    """Shares of trials: alarm raised, slip named with up to three further readings, wrong reading named."""
    found = named = wrong = 0
    for pane in PANES:
        lengths = true_lengths(QUADS[pane])
        for _ in range(TRIALS):
            drawn = {k: float(rng.normal(0, INCH / 16)) for k in lengths}
            drawn[key] += slip * INCH * rng.choice([-1, 1])
            keys = list(SIX)
            fit = fit_corners(noisy(keys, lengths, drawn), figure=Figure.FOUR, starting=START)
            if fit is None or not fit.alarm:
                continue
            found += 1
            for _ in range(3):
                if fit is None or fit.culprit or fit.ask_for is None:
                    break
                keys.append(fit.ask_for)
                fit = fit_corners(noisy(keys, lengths, drawn), figure=Figure.FOUR, starting=START)
            if fit and fit.culprit:
                named += fit.culprit.key == key
                wrong += fit.culprit.key != key
    total = TRIALS * len(PANES)
    return found / total, named / total, wrong / total


def slips() -> list[str]:
    rng = np.random.default_rng(11)
    lines = [
        "## Slips put into every reading", "",
        f"{len(PANES)} panes, {TRIALS} trials each, tape sigma 1/16 in, readings to a sixteenth, alarm beyond 3 sigma. "
        "Named: after up to three further readings of the program's choice. Shares of all trials.", "",
        "| slip | reading | detected | named rightly | named wrongly |", "| --- | --- | --- | --- | --- |",
    ]  # fmt: skip
    for slip in (0.25, 0.5, 1.0):
        for key in SIX:
            detected, named, wrong = slip_rates(slip, key, rng)
            lines.append(f"| {slip:g} in | {key.replace('_', ' ')} | {detected:.0%} | {named:.0%} | {wrong:.0%} |")
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
            "format": "elumbra-job", "format_version": 2, "job": job["job"], "films": films,
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
    (ROOT / "docs" / "measurements.md").write_text("\n".join([*head, *slips(), *costs()]) + "\n", encoding="utf-8")
