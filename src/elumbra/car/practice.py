"""A pane of a lesson, of the shelf or of a car made ready to practise on; and runs as they are being played.

A run's state is worked out from its strokes: what is held here only spares doing so anew.
"""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from functools import lru_cache
from hashlib import sha256
from math import isfinite
from threading import Lock
from typing import Any

from elumbra.core.errors import CoreError
from elumbra.core.practice import RULES_VERSION, Board, Lesson, Run, School, begin, board_of, played, read_strokes
from elumbra.core.shrink import Bears
from elumbra.core.starting import StartingValues
from elumbra.core.work import GlassFacts, OnGlass, Window, facts_of, pane_heat
from elumbra.documents.job_file import ReadingPart
from elumbra.documents.shelf import PanePart, measured, pane_measures, pane_part, plain
from elumbra.storage import data_files

_HELD_RUNS = 12
_EVERY = 100  # steps between states that a replay starts from


@dataclass(frozen=True)
class Setup:
    """What a run is played on, as it is kept with it: never touched by what becomes of shelf, job or figures."""

    title: str
    pane: Mapping[str, Any]
    mirrored: bool
    film: str
    limit: float
    school: School
    changed: Mapping[str, float]  # the shop's own figures

    def to_plain(self) -> dict[str, Any]:
        """As it is kept."""
        return {**vars(self), "school": self.school.value, "pane": dict(self.pane), "changed": dict(self.changed)}

    @property
    def digest(self) -> str:
        """Of what decides how a run goes: not of its title."""
        told = {name: one for name, one in self.to_plain().items() if name not in ("title", "film")}
        return sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()


def setup_from(content: Mapping[str, Any]) -> Setup:
    """A setup from what was kept.

    Raises
    ------
    CoreError
        It is none.
    """
    try:
        found = Setup(**{**content, "school": School(content["school"])})
        pane_part(found.pane)
        if not isfinite(float(found.limit)) or not isinstance(found.mirrored, bool):
            raise ValueError("limit or side")
        changed = {str(name): float(value) for name, value in found.changed.items()}
        if not all(isfinite(value) for value in changed.values()):
            raise ValueError("figures")
        return replace(found, title=str(found.title)[:200], film=str(found.film)[:200], changed=changed)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise CoreError(
            "The pane or the film of this run cannot be read: it was changed, or is of another program."
        ) from error


def rules_now() -> str:
    """Which model, rules and shipped figures a run is played by."""
    return f"{RULES_VERSION}/{data_files.starting_values().version}"


def lesson_setup(lesson: Lesson, starting: StartingValues) -> Setup:
    """A lesson's pane."""
    return Setup(
        title=lesson.title, pane=lesson.pane, mirrored=False, film=lesson.film, limit=lesson.limit,
        school=lesson.school, changed=own_changes(starting),
    )  # fmt: skip


def pane_setup(
    part: PanePart, starting: StartingValues, *, title: str, mirrored: bool, film: str, limit: float, school: School
) -> Setup:
    """A pane of the glass shelf."""
    return Setup(title, plain(part), mirrored, film, limit, school, own_changes(starting))


def window_part_of(window: Window) -> PanePart:
    """A car's window as a pane of the shelf's file, its readings resolved."""
    measures = window.measures
    return PanePart(
        label=window.label,
        **facts_of(window, GlassFacts),
        curve=measures.curve,
        level=measures.level,
        figure=measures.figure,
        readings={key: ReadingPart(typed=one.typed, mode=one.mode) for key, one in measures.readings.items()},
        reentrant=tuple(sorted(measures.reentrant)),
        drawn=measures.drawn,
    )


def own_changes(starting: StartingValues) -> dict[str, float]:
    """The shop's own figures among them."""
    return {name: one.value for name, one in starting.values.items() if one.changed_by_shop}


def board_for(setup: Setup) -> Board:
    """The board of a setup.

    Raises
    ------
    CoreError
        No film lies on that pane, or its readings are impossible.
    """
    return _board(json.dumps(setup.to_plain(), sort_keys=True))


@lru_cache(maxsize=32)
def _board(content: str) -> Board:
    setup = setup_from(json.loads(content))
    starting = data_files.starting_values()
    starting = starting.with_shop_values(starting.clamped(dict(setup.changed))[0])
    part = pane_part(setup.pane)
    pane = measured(part, starting=starting)
    if pane.outline is None or pane.lie is None:
        raise CoreError("This pane is not measured: read its greatest width and height first.")
    pane = pane.mirrored() if setup.mirrored else pane
    window = Window(
        **facts_of(part, GlassFacts), id="pane", label=part.label, measures=pane_measures(part), mirrored=setup.mirrored
    )
    on = OnGlass(window.measures, setup.mirrored, pane, starting)
    # Glass whose mark nobody read is taken for laminated, as at Heat.
    laminated = pane_heat(window, pane).laminated is not False
    return board_of(on, Bears.of(setup.limit, starting=starting), laminated=laminated)


@dataclass
class Playing:
    """One run being played: its latest state, and states along it that a replay starts from."""

    run: Run
    along: dict[int, Run] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def play(self, rows: Sequence[Sequence[Any]], *, until: int) -> Run:
        """What the run would be after further strokes; it is not taken over.

        Raises
        ------
        StrokeError
            No strokes, or out of order.
        """
        strokes = read_strokes(rows, after=self.run.step)
        return played(self.run, strokes, until=until)

    def keep(self, run: Run) -> None:
        """Take a state over."""
        self.run = run
        if run.step - max(self.along, default=0) >= _EVERY:
            self.along[run.step] = run


Parts = Sequence[tuple[int, int, Sequence[Sequence[Any]]]]


class Stage:
    """The runs that are being played or looked at, the latest few of them."""

    def __init__(self) -> None:
        self._runs: OrderedDict[str, Playing] = OrderedDict()
        self._lock = Lock()

    @contextmanager
    def of(self, run_id: str, setup: Setup, seed: int, parts: Parts) -> Iterator[Playing]:
        """A run as far as its strokes go, for one caller at a time.

        Parameters
        ----------
        run_id, setup, seed
            Which run.
        parts
            Its strokes as they are kept: from where on, up to where, and the rows.
        """
        board = board_for(setup)  # takes a while the first time: nobody else waits for it
        with self._lock:
            playing = self._runs.get(run_id)
            if playing is None:
                playing = self._runs[run_id] = Playing(begin(board, seed=seed))
            self._runs.move_to_end(run_id)
            while len(self._runs) > _HELD_RUNS:
                self._runs.popitem(last=False)
        with playing.lock:
            for after, until, rows in parts:
                if until > playing.run.step and not playing.run.over:
                    for run in _in_parts(playing.run, rows, after=after, until=until):
                        playing.keep(run)
            yield playing

    def reached(self, run_id: str) -> int:
        """The step that a run which is held here has reached; 0 where it is not."""
        with self._lock:
            playing = self._runs.get(run_id)
        return 0 if playing is None else playing.run.step

    def at(self, playing: Playing, parts: Parts, step: int) -> Run:
        """A run as it was at a step."""
        if step >= playing.run.step:
            return playing.run
        start = max((one for one in playing.along if one <= step), default=None)
        run = playing.along[start] if start is not None else begin(playing.run.board, seed=playing.run.seed)
        for after, until, rows in parts:
            if until > run.step and after < step:
                wanted = [row for row in rows if run.step <= row[0] < step]
                run = played(run, read_strokes(wanted, after=run.step), until=min(until, step))
        return run


def _in_parts(run: Run, rows: Sequence[Sequence[Any]], *, after: int, until: int) -> Iterator[Run]:
    """A long stretch of strokes, a hundred steps at a time, so that a replay finds states along it."""
    assert after <= run.step
    while run.step < until and not run.over:
        end = min(until, run.step + _EVERY)
        now = [row for row in rows if run.step <= row[0] < end]
        run = played(run, read_strokes(now, after=run.step), until=end)
        yield run


STAGE = Stage()
