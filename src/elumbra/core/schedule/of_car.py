"""A car's runs as tasks of the day: one for each phase on each window, from what is not ticked yet."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil

from elumbra.core.bay import END, START, CarRuns, Does, Phase, Progress, RunStep
from elumbra.core.glass import DOORS, Curve, Side, WindowKind
from elumbra.core.schedule.problem import Place, PlanTask, Skill
from elumbra.core.starting import StartingValues
from elumbra.core.work import Car, Window

_LONG_WAIT = 5.0  # a shorter one is no time to do something else in
_SHORT = 1.5  # a stage under this goes with the one before it


@dataclass(frozen=True)
class _Stage:
    name: str
    words: str
    skill: Skill


_PREP = _Stage("prep", "prepare", Skill.PREP)
_CUT = _Stage("cut", "cut", Skill.CUT)
_SHRINK = _Stage("shrink", "shrink", Skill.SHRINK)
_CLEAN = _Stage("clean", "clean inside", Skill.PREP)
_FILM = _Stage("film", "lay film", Skill.FILM)
_BACK = _Stage("back", "put back", Skill.PREP)
_LOOK = _Stage("look", "first look", Skill.LOOK)
_STRIP = _Stage("strip", "take old film off", Skill.STRIP)
_CLOSE = _Stage("close", "close the car", Skill.PREP)

STAGE_OF: Mapping[Phase, _Stage] = {
    Phase.PROTECT: _PREP, Phase.OUTSIDE_PREP: _PREP, Phase.CUT: _CUT, Phase.BOARD: _CUT, Phase.SHRINK: _SHRINK,
    Phase.INSIDE_PREP: _CLEAN, Phase.LAST_RINSE: _FILM, Phase.PEEL: _FILM, Phase.PLACE: _FILM, Phase.TACK: _FILM,
    Phase.PRESS: _FILM, Phase.EDGES: _FILM, Phase.DRY: _FILM, Phase.PUT_BACK: _BACK, Phase.FIRST_LOOK: _LOOK,
    Phase.STRIP: _STRIP, Phase.GLUE: _STRIP, Phase.CHECK: _STRIP, Phase.CLOSE: _CLOSE,
}  # fmt: skip

Minutes = Callable[[str | None, RunStep], float]
"""What a step takes on a window, by the shop's own record or the customary figure."""


@dataclass(frozen=True)
class _Piece:
    stage: _Stage
    steps: tuple[RunStep, ...]

    @property
    def wait(self) -> float:
        return max((one.wait for one in self.steps if one.wait >= _LONG_WAIT), default=0.0)

    def does(self, *what: Does) -> bool:
        return any(effect.does in what for one in self.steps for effect in one.step.effects)


def tasks_of(
    car: Car,
    runs: CarRuns,
    *,
    id: str,  # noqa: A002
    minutes: Minutes,
    starting: StartingValues,
    spreads: Mapping[tuple[str, str], float] | None = None,
    ready_at: Callable[[float], int] | None = None,
    damp: bool = False,
) -> tuple[PlanTask, ...]:
    """The work that is left on a car.

    Parameters
    ----------
    car, runs
        As surveyed and as ticked.
    id
        Of the job; it begins the ids of the tasks.
    minutes
        What a step takes.
    starting
        Minutes at the bench, spreads, how much longer drying takes on a damp or cold day.
    spreads
        By kind of window and stage, the spread of the shop's own times.
    ready_at
        A moment [s] as a minute of the plan, for what dries already.
    damp
        A cold or wet day: what dries takes longer.

    Returns
    -------
    tuple[PlanTask, ...]
        Empty where nothing is left to do.
    """
    made = _Making(car, runs, id, minutes, starting, spreads or {}, ready_at, damp)
    return made.all()


@dataclass
class _Making:
    car: Car
    runs: CarRuns
    id: str
    minutes: Minutes
    starting: StartingValues
    spreads: Mapping[tuple[str, str], float]
    ready_at: Callable[[float], int] | None
    damp: bool

    def all(self) -> tuple[PlanTask, ...]:
        begin = self._line(START, None, "Whole car", ())
        first = (begin[-1].id,) if begin else ()
        stripped: list[PlanTask] = []
        for name in self.runs.progress:
            if name.startswith("strip:"):
                window = self._window(name.removeprefix("strip:"))
                stripped += self._line(name, window, window.label, first)
        after = tuple(one.id for one in stripped if not _followed(one, stripped)) or first
        benches = self._bench()
        filmed: list[PlanTask] = []
        for window_id in self.runs.windows:
            window = self._window(window_id)
            bench = next((one.id for one in benches if one.film == window.film_id), None)
            filmed += self._line(window_id, window, window.label, after, bench=bench)
        last = tuple(one.id for one in filmed if not _followed(one, filmed)) or after
        end = self._line(END, None, "Whole car", last)
        return (*begin, *stripped, *benches, *filmed, *end)

    def _window(self, window_id: str) -> Window:
        return self.car.window(window_id)

    def _bench(self) -> list[PlanTask]:
        """Blanks off the roll, film by film: no car is needed for it."""
        open_films: dict[str, int] = {}
        for window_id in self.runs.windows:
            cuts = [one for one in self._open(self.runs.progress[window_id]) if STAGE_OF[one.phase] is _CUT]
            film = self._window(window_id).film_id
            if cuts and film and not self._window(window_id).is_cut:
                open_films[film] = open_films.get(film, 0) + 1
        pull, knife = self.starting["pull_minutes"], self.starting["knife_cut_minutes"]
        return [
            PlanTask(
                f"{self.id}:bench:{film}", self.id, self._film_name(film), "cut blanks off the roll",
                ceil(pull + 2 * knife * count), Skill.CUT, place=Place.BENCH, film=film,
                spread=self.starting["plan_time_spread"],
            )
            for film, count in open_films.items()
        ]  # fmt: skip

    def _film_name(self, film: str) -> str:
        found = self.car.job.films.get(film)
        return found.name if found else film

    @staticmethod
    def _open(progress: Progress) -> list[RunStep]:
        return [one for one in progress.run.steps if one.key not in progress.ticks]

    def _line(
        self, name: str, window: Window | None, label: str, after: Sequence[str], *, bench: str | None = None
    ) -> list[PlanTask]:
        """One run's open steps, stage by stage, each after the one before."""
        progress = self.runs.progress.get(name)
        steps = [] if progress is None else self._open(progress)
        if not steps or progress is None:
            return []
        pieces = _pieces(steps, lambda step: self.minutes(window.id if window else None, step))
        wet = _door(window) if window is not None else ""
        bag = name.startswith("strip:") and self.runs.told[name].situation.get("way") == "bag"
        found: list[PlanTask] = []
        drying = self._drying(progress)
        for i, piece in enumerate(pieces):
            skill = piece.stage.skill
            if (
                skill is Skill.SHRINK
                and window is not None
                and window.measures.curve in (Curve.BOTH_WAYS, Curve.STRONG)
            ):
                skill = Skill.SHRINK_CURVED
            before = (found[-1].id,) if found else tuple(after)
            if bench is not None and piece.stage is _CUT:
                before, bench = (*before, bench), None
            kind = window.kind.value if window is not None else ""
            total = sum(self.minutes(window.id if window else None, one) for one in piece.steps)
            total += sum(one.wait for one in piece.steps if one.wait < _LONG_WAIT)
            long = self.starting["damp_day_share"] if self.damp else 1.0
            last_film = piece.stage is _FILM and not any(one.stage is _FILM for one in pieces[i + 1 :])
            found.append(
                PlanTask(
                    f"{self.id}:{name}:{i}", self.id, label, piece.stage.words, max(1, ceil(total)), skill,
                    wait=ceil(piece.wait * (long if piece.wait < 240 else 1.0)), after=before,
                    place=Place.YARD if bag and piece.stage is _STRIP and piece.wait else Place.BAY,
                    uses_doors=_through(window, piece.stage, self.car.job.windows),
                    wets_door=wet if last_film else "",
                    raises_hatch=piece.does(Does.HATCH_UP), lowers_hatch=piece.does(Does.HATCH_DOWN),
                    spread=self.spreads.get((kind, piece.stage.name), self.starting["plan_time_spread"]),
                    not_before=None if found else drying,
                )
            )  # fmt: skip
        return found

    def _drying(self, progress: Progress) -> int | None:
        """From which minute on the next step can be done, where what was ticked last still dries."""
        until = progress.waits_until(0.0)
        return self.ready_at(until) if until is not None and self.ready_at is not None else None


def _pieces(steps: Sequence[RunStep], minutes: Callable[[RunStep], float]) -> list[_Piece]:
    """Steps by stage; one that dries long ends its piece; what is over in a moment goes with what stands before it."""
    groups: list[tuple[_Stage, list[RunStep]]] = []
    ended = True
    for step in steps:
        stage = STAGE_OF[step.phase]
        if groups and not ended and groups[-1][0] is stage:
            groups[-1][1].append(step)
        else:
            groups.append((stage, [step]))
        ended = step.wait >= _LONG_WAIT
    merged: list[tuple[_Stage, list[RunStep]]] = []
    for stage, group in groups:
        dries = any(one.wait >= _LONG_WAIT for one in group)
        over_soon = sum(minutes(one) for one in group) < _SHORT and not dries
        goes_on = merged and merged[-1][1][-1].wait < _LONG_WAIT and (over_soon or merged[-1][0] is stage)
        if goes_on:
            merged[-1][1].extend(group)
        else:
            merged.append((stage, list(group)))
    return [_Piece(stage, tuple(group)) for stage, group in merged]


def _followed(task: PlanTask, tasks: Sequence[PlanTask]) -> bool:
    return any(task.id in one.after for one in tasks)


def _door(window: Window) -> str:
    """The door that a window is in; empty where it is in none."""
    return window.id if window.kind in DOORS else ""


def _through(window: Window | None, stage: _Stage, windows: Sequence[Window]) -> frozenset[str]:
    """Doors that are opened for a stage: the quarter's on its own side; a glass in a door is reached by that door."""
    if window is None or stage not in (_CLEAN, _FILM, _BACK):
        return frozenset()
    if window.kind in (WindowKind.QUARTER, WindowKind.FIXED_SIDE) and window.side is not Side.CENTRE:
        beside = [one.id for one in windows if one.kind in DOORS and one.side is window.side]
        return frozenset(beside[-1:])
    return frozenset()


def together(tasks: Sequence[PlanTask], film: str, *, starting: StartingValues) -> tuple[PlanTask, ...]:
    """The day's blanks of one film in one task, so that one layout serves all its cars; the roll is pulled out once.

    Examples
    --------
    >>> from elumbra.core.starting import StartingValues
    >>> together([], "smoke", starting=StartingValues("", {}, ()))
    ()
    """
    own = [one for one in tasks if one.place is Place.BENCH and one.film == film]
    if len(own) < 2:
        return tuple(tasks)
    saved = int(starting["pull_minutes"]) * (len(own) - 1)
    names = {one.id for one in own}
    whole = PlanTask(
        f"together:{film}", "", own[0].label, f"cut blanks for {len(own)} cars",
        max(1, sum(one.minutes for one in own) - saved), Skill.CUT, place=Place.BENCH, film=film, spread=own[0].spread,
    )  # fmt: skip
    rest = [
        replace(one, after=tuple(dict.fromkeys(whole.id if before in names else before for before in one.after)))
        for one in tasks
        if one.id not in names
    ]
    return (whole, *rest)


_BACKS = (WindowKind.BACK_GLASS, WindowKind.HATCH, WindowKind.SLIDER)


def customary_tasks(
    windows: Sequence[tuple[str, str, WindowKind]],
    *,
    id: str,  # noqa: A002
    starting: StartingValues,
) -> tuple[PlanTask, ...]:
    """What a car takes by the customary times, before anybody chose film or looked at its glass.

    Parameters
    ----------
    windows
        Id, label and kind of each window that will get film.
    id
        Of the job.
    starting
        The customary times.

    Examples
    --------
    >>> customary_tasks([], id="a", starting=StartingValues("", {}, ()))
    ()
    """
    spread = starting["plan_time_spread"] if windows else 0.0
    found: list[PlanTask] = []
    last: list[str] = []
    for window_id, label, kind in windows:
        back = kind in _BACKS
        stages: tuple[tuple[_Stage, Skill, float], ...] = (
            (_PREP, Skill.PREP, starting["usual_prep_min"]),
            (_CUT, Skill.CUT, starting["usual_cut_min"]),
            (_SHRINK, Skill.SHRINK_CURVED if back else Skill.SHRINK,
             starting["usual_shrink_back_min" if back else "usual_shrink_min"]),
            (_FILM, Skill.FILM, starting["usual_film_back_min" if back else "usual_film_min"]),
        )  # fmt: skip
        if kind is WindowKind.QUARTER:
            stages = ((_PREP, Skill.PREP, 3.0), (_FILM, Skill.FILM, starting["usual_quarter_min"]))
        before: tuple[str, ...] = ()
        for i, (stage, skill, minutes) in enumerate(stages):
            name = f"{id}:{window_id}:{i}"
            found.append(
                PlanTask(name, id, label, stage.words, max(1, ceil(minutes)), skill, after=before, spread=spread)
            )
            before = (name,)
        last += before
    if found:
        look = max(1, ceil(starting["usual_look_min"]))
        found.append(
            PlanTask(f"{id}:end:0", id, "Whole car", "final look", look, Skill.LOOK, after=tuple(last), spread=spread)
        )
    return tuple(found)
