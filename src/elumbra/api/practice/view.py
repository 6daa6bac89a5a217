"""Runs of the practice glass as they are sent."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from elumbra.api.practice.schemas import (
    BestOut,
    FrameOut,
    HintOut,
    LieOut,
    Ring,
    RunBrief,
    SlipOut,
)
from elumbra.core.geom.polygon import Points
from elumbra.core.practice import BY_NAME, STEP_S, Damage, Event, Lie, Run, School, next_hint, screen_of
from elumbra.storage.practice import Tally
from elumbra.storage.practice_records import PracticeRecord

DAMAGES = (
    Damage.HOLE, Damage.BURN, Damage.HAZE, Damage.GLASS, Damage.PINCH, Damage.CREASE, Damage.DRAG, Damage.TRAILS,
    Damage.GAP, Damage.ASKEW,
)  # fmt: skip
"""The worst first: a cell that has several shows this one."""
_EVERY_ROW = 2
_DRAWN_POINTS = 120


def grid(cells: Any) -> str:
    """One byte a cell."""
    return b64encode(np.ascontiguousarray(cells, dtype=np.uint8).tobytes()).decode()


def frame_out(run: Run, *, school: School, taken: bool = True) -> FrameOut:
    """A run as it is seen."""
    screen = screen_of(run, every=_EVERY_ROW)
    board = run.board
    hint = next_hint(screen, school=school, values=board.values, laminated=board.laminated)
    worst = np.zeros(screen.marks.shape, dtype=np.uint8)
    for place, damage in reversed(list(enumerate(DAMAGES, start=1))):
        worst[(screen.marks & int(damage)) != 0] = place
    return FrameOut(
        step=run.step, taken=taken, way=screen.way, h_way=screen.h_way, lie=run.lie.way, sheeted=screen.sheeted,
        dry=screen.dry, wet=screen.wet, trimmed=screen.trimmed, over=screen.over, looks=grid(screen.looks),
        warmth=grid(screen.warmth), stands=grid(screen.stands), marks=grid(worst),
        ridges=[[one.row, round(one.u), round(one.high, 1), int(one.soft)] for one in screen.ridges],
        glass_c=int(screen.glass[run.lie.on_glass].max(initial=0)),
        hint=HintOut(about=hint.about, words=hint.words, at=list(hint.at) if hint.at else None),
        events=[event_out(event) for event in run.events],
    )  # fmt: skip


def event_out(event: Event) -> SlipOut:
    """A slip with its rule's words."""
    rule = BY_NAME[event.rule]
    return SlipOut(
        step=event.step, rule=rule.name, damage=(rule.damage.name or "").lower(), words=rule.words,
        instead=rule.instead, source=rule.source, x=event.x, y=event.y,
    )  # fmt: skip


def lie_out(lie: Lie) -> LieOut:
    """A grid, and what stands on it."""
    wide, tall = lie.cell
    return LieOut(
        way=lie.way, u_from=float(lie.u[0]), u_step=wide, v_from=float(lie.v[0]), v_step=tall,
        on_glass=grid(lie.on_glass), outline=outline_out(lie.drawn(lie.ring)), side_lines=list(lie.side_lines),
        order=[zone.quarter for zone in lie.plan.zones],
    )  # fmt: skip


def outline_out(ring: Points) -> Ring:
    """An outline in so many points that it is drawn round."""
    step = max(1, len(ring) // _DRAWN_POINTS)
    return [[round(x, 1), round(y, 1)] for x, y in ring[::step].tolist()]


def best_out(tally: Tally | None) -> BestOut:
    """What somebody has done of a lesson; nothing yet."""
    return BestOut(runs=0, best=None, passes=0) if tally is None else BestOut(**vars(tally))


def brief(record: PracticeRecord) -> RunBrief:
    """A run in a list."""
    said: Mapping[str, Any] = record.score
    return RunBrief(
        id=record.id, title=record.title, lesson=record.lesson, at=record.at, seconds=round(record.steps * STEP_S),
        over=record.over, points=record.points, passed=record.passed, headline=str(said.get("headline", "")),
    )  # fmt: skip


def hands_before(parts: Sequence[tuple[int, int, Sequence[Sequence[Any]]]], step: int) -> list[list[Any]]:
    """What hands did in the second before a step."""
    return [list(row) for after, until, rows in parts if after < step and until > step - 10
            for row in rows if step - 10 <= row[0] < step]  # fmt: skip
