"""A whole job as a file: an asymmetric measured door on both sides, a rear door by size, a back glass."""

from __future__ import annotations

from typing import Any


def _typed(**readings: str) -> dict[str, dict[str, str]]:
    return {key: {"typed": typed} for key, typed in readings.items()}


def job_document() -> dict[str, Any]:
    """A fresh copy each time, so that a test may break it."""
    door = {"kind": "framed_door", "film": "carbon35", "bare_vlt_percent": 75, "bare_vlt_source": "metered"}
    return {
        "format": "elumbra-job",
        "format_version": 1,
        "job": {
            "title": "Test car",
            "customer": "A. Nobody",
            "vehicle": {
                "label": "Catalogue sedan",
                "vehicle_class": "passenger",
                "states": ["TX"],
                "mirrors_both_sides": True,
                "model_year": 2020,
            },
            "windows": [
                door
                | {
                    "id": "df",
                    "label": "Driver front",
                    "position": "front_side",
                    "side": "driver",
                    "level": "shape",
                    # Corners 0,0  36,0  33,17  12,18 in: sides and diagonals to the next sixteenth.
                    "readings": _typed(
                        bottom="36", right="17 1/4", top="21", left="21 5/8",
                        diagonal_rising="37 1/8", diagonal_falling="30",
                    ),
                },
                door
                | {
                    "id": "pf",
                    "label": "Passenger front",
                    "position": "front_side",
                    "side": "passenger",
                    "same_as": {"window": "df", "mirrored": True},
                },
                door
                | {
                    "id": "dr",
                    "label": "Driver rear",
                    "position": "rear_side",
                    "side": "driver",
                    "readings": _typed(width="35 7/16", height="18"),
                },
                door
                | {
                    "id": "bk",
                    "label": "Back glass",
                    "position": "rear_window",
                    "kind": "back_glass",
                    "curve": "both_ways",
                    "film": "dark20",
                    "readings": _typed(width="1000 mm", height="2' 1"),
                },
            ],
        },
        "films": [
            {
                "id": "carbon35", "name": "Carbon 35", "construction": "carbon", "vlt_percent": 35,
                "vlt_basis": "on_3mm_clear", "reflectance_percent": 8,
            },
            {
                "id": "dark20", "name": "Dark 20", "construction": "dyed", "vlt_percent": 20,
                "vlt_basis": "on_3mm_clear", "reflectance_percent": 6,
            },
        ],
        "stock": [
            {"id": "r40", "film": "carbon35", "kind": "roll", "label": "C35-40", "width": "40", "length": "50'", "price_per_m2": 14, "lot": "L1"},
            {"id": "r20", "film": "carbon35", "kind": "roll", "label": "C35-20", "width": "20", "length": "50'", "price_per_m2": 15, "liner": "down"},
            {"id": "d36", "film": "dark20", "kind": "roll", "label": "D20-36", "width": "36", "length": "40'", "price_per_m2": 9},
        ],
    }  # fmt: skip
