"""What a run was worth, part by part, each with its reason; and whether it passes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elumbra.core.practice.film import PRESSED
from elumbra.core.practice.rules import BY_NAME
from elumbra.core.practice.run import Run, damaged, ruined


@dataclass(frozen=True)
class Part:
    """One part of the score."""

    name: str
    points: int
    most: int
    words: str


@dataclass(frozen=True)
class Score:
    """A finished run."""

    points: int  # of 100
    passed: bool
    headline: str
    parts: tuple[Part, ...]
    flat_share: float


def score_of(run: Run) -> Score:
    """The score of a run as it stands: flat share, damage, order, time, heat on the glass.

    Notes
    -----
    60 points for what lies flat and sound, 15 for the order, 10 for the time, 15 for the glass: our assumption.
    Order, time and glass count in the share that lies flat: who does little is not praised for doing it fast.
    Whatever is damaged does not pass, however many points.
    """
    values = run.board.values
    glass = run.lie.on_glass
    spoilt = damaged(run)
    scrap = ruined(run)
    down = glass & (run.sheet.contact >= PRESSED)
    flat = float((down & ~spoilt).sum() / max(int(glass.sum()), 1))
    order = run.in_order / run.pressed if run.pressed else 0.0
    allowed = max(run.lie.plan.minutes * 60, 60.0)
    late = run.seconds / allowed
    hot, warns = values["glass_hot_c"], values["glass_warns_c"]
    warm = float(np.clip((run.hottest_glass - warns) / (hot - warns), 0.0, 1.0))
    parts = (
        Part("flat", round(60 * flat), 60, f"{_percent(flat)} of the pane lies flat and sound."),
        _damage(run, damaged=scrap),
        Part(
            "order", round(15 * order * flat), 15,
            f"{_percent(order)} was pressed with nothing loose behind the hand.",
        ),
        Part(
            "time", round(10 * flat * float(np.clip(2 - late, 0, 1))), 10,
            f"{_clock(run.seconds)} of the {_clock(allowed)} that Heat plans.",
        ),
        Part(
            "glass", round(15 * flat * (1 - warm)), 15,
            f"The glass came to {run.hottest_glass:.0f} °C at most; a palm leaves it at {hot:.0f} °C.",
        ),
    )  # fmt: skip
    points = max(0, min(100, sum(part.points for part in parts)))
    passed = not scrap and flat >= values["practice_flat_pass"] and run.trimmed
    return Score(points, passed, _headline(run, passed=passed, damaged=scrap, flat=flat), parts, flat)


def _damage(run: Run, *, damaged: bool) -> Part:
    if not damaged and not run.events:
        return Part("damage", 0, 0, "Nothing was ruined.")
    first = BY_NAME[run.events[0].rule]
    more = len(run.events) - 1
    words = f"{first.words}{f' {more} more.' if more else ''}"
    return Part("damage", -min(50, 15 * len(run.events)), 0, words)


def _headline(run: Run, *, passed: bool, damaged: bool, flat: float) -> str:
    if passed:
        return "Passed: it lies flat and nothing was ruined."
    if run.film_way is None:
        return "No film was laid."
    if damaged:
        rule = next((BY_NAME[event.rule] for event in run.events), None)
        return f"Scrap. {rule.words}" if rule else "Scrap."
    if flat < run.board.values["practice_flat_pass"]:
        return f"Not done: {_percent(1 - flat)} of the pane does not lie down yet."
    return "Not done: cut it at the edge of the glass."


def _percent(share: float) -> str:
    return f"{int(100 * share)} %"


def _clock(seconds: float) -> str:
    return f"{int(seconds) // 60}:{int(seconds) % 60:02d} min"
