"""Whole-car proposals: which film on which window, lawful as a whole.

Windows are taken in groups that look alike (same position, glass about as dark), so that
pairs get the same film. Where one window's limit depends on another's, groups are chosen
again with the others as they then are, until nothing changes.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from elumbra.core.film import Film
from elumbra.core.glass import GlassType, Position
from elumbra.core.law import CarFacts, LawBook, PaneFacts, VerdictWord, judge
from elumbra.core.light import heat_side
from elumbra.core.starting import StartingValues
from elumbra.core.work.job import Job, Window
from elumbra.core.work.shade import car_facts, glass_under, pane_facts

_GROUPED = (Position.REAR_WINDOW, Position.REAR_SIDE, Position.FRONT_SIDE)  # fronts last: they follow the rear
_ROUNDS = 4
_ALIKE = 0.1  # glass within ten points counts as alike
_ORDER = {word: i for i, word in enumerate(VerdictWord)}


class ProposalKind(StrEnum):
    """What a proposal aims at."""

    MATCH_REAR = "match_rear"  # fronts as near the rear as is lawful
    DARKEST = "darkest"  # every window as dark as is lawful
    ONE_FILM = "one_film"  # the same film all round
    COOLEST = "coolest"  # the most solar heat kept out


TITLES = {
    ProposalKind.MATCH_REAR: "Fronts nearest the rear",
    ProposalKind.DARKEST: "Darkest lawful",
    ProposalKind.ONE_FILM: "One film all round",
    ProposalKind.COOLEST: "Most heat kept out",
}


@dataclass(frozen=True)
class ProposedWindow:
    """One window of a proposal."""

    window_id: str
    film_id: str | None
    vlt: float | None  # glass and film, 0 to 1
    word: VerdictWord | None  # None without film
    alternatives: tuple[str, ...]  # other films on the rack that clear here, darkest first


@dataclass(frozen=True)
class Proposal:
    """Films for a whole car."""

    kinds: tuple[ProposalKind, ...]  # more than one where they come to the same
    windows: tuple[ProposedWindow, ...]
    open_windows: tuple[str, ...]  # no film on the rack is known to clear there

    @property
    def title(self) -> str:
        """What it aims at, in words."""
        return "; ".join(TITLES[kind] for kind in self.kinds)

    @property
    def films(self) -> Mapping[str, str | None]:
        """Film by window."""
        return {one.window_id: one.film_id for one in self.windows}


def propose(job: Job, stocked: Sequence[Film], law: LawBook, *, starting: StartingValues) -> tuple[Proposal, ...]:
    """Up to four proposals for a car from the films on the rack.

    The windshield and roof glass keep what they have; plastic takes no film.

    Returns
    -------
    tuple of Proposal
        Each with every window Clears or left bare; kinds that come to the same are one.
        Empty where the car has no side or rear glass or the rack no film.
    """
    search = _Search(job, stocked, law, starting)
    if not search.groups or not stocked:
        return ()
    found: dict[tuple[tuple[str, str | None], ...], Proposal] = {}
    for kind, assigned in (
        (ProposalKind.MATCH_REAR, search.match_rear()),
        (ProposalKind.DARKEST, search.settle(search.darkest_first)),
        (ProposalKind.ONE_FILM, search.one_film()),
        (ProposalKind.COOLEST, search.coolest()),
    ):
        if assigned is None:
            continue
        key = tuple(sorted(assigned.items()))
        if key in found:
            found[key] = replace(found[key], kinds=(*found[key].kinds, kind))
        else:
            found[key] = search.proposal(kind, assigned)
    return tuple(found.values())


_Assigned = dict[str, str | None]
_Ranked = Callable[["_Group", _Assigned], Sequence[Film]]


@dataclass(frozen=True)
class _Group:
    position: Position
    windows: tuple[Window, ...]
    privacy: bool  # made dark in the factory


class _Search:
    """One car's search; panes with each film are worked out once."""

    def __init__(self, job: Job, stocked: Sequence[Film], law: LawBook, starting: StartingValues) -> None:
        self.job, self.law, self.starting = job, law, starting
        self.films = {film.id: film for film in sorted(stocked, key=lambda film: (film.vlt, film.id))}
        self.known = {**job.films, **self.films}
        self.groups = _groups(job.windows, starting)
        self._panes: dict[tuple[str, str | None], PaneFacts] = {}
        self._bare: _Assigned = {window.id: None for group in self.groups for window in group.windows}

    def pane(self, window: Window, film_id: str | None) -> PaneFacts:
        """A window with a film, from the cache."""
        key = (window.id, film_id)
        if key not in self._panes:
            film = self.known[film_id] if film_id else None
            self._panes[key] = pane_facts(window, film, self.known, starting=self.starting)
        return self._panes[key]

    def car(self, assigned: Mapping[str, str | None]) -> CarFacts:
        """The car with films assigned; windows outside the groups as planned."""
        panes = [self.pane(window, assigned.get(window.id, window.film_id)) for window in self.job.windows]
        return car_facts(self.job.vehicle, panes)

    def word(self, window: Window, car: CarFacts) -> VerdictWord | None:
        """The worst verdict on a window, None without film."""
        pane = next(pane for pane in car.panes if pane.id == window.id)
        if pane.film is None:
            return None
        words = [
            judge(self.law.of(code), pane, car, starting=self.starting).word for code in self.job.vehicle.states
        ]  # fmt: skip
        return min(words, key=lambda word: _ORDER[word])

    def group_clears(self, group: _Group, assigned: _Assigned, film_id: str) -> bool:
        """Whether a film clears on all windows of a group, the others as assigned."""
        car = self.car(assigned | {window.id: film_id for window in group.windows})
        seen: dict[tuple[float | None, bool], bool] = {}
        for window in group.windows:
            pane = self.pane(window, film_id)
            alike = (pane.combined.vlt if pane.combined else None, pane.factory_glass is True)
            if alike not in seen:
                seen[alike] = self.word(window, car) is VerdictWord.CLEARS
            if not seen[alike]:
                return False
        return True

    def settle(self, ranked: _Ranked) -> _Assigned:
        """The first film in order that clears for each group, chosen again until nothing changes."""
        assigned = dict(self._bare)
        for _ in range(_ROUNDS):
            before = dict(assigned)
            for group in self.groups:
                best = next(
                    (film.id for film in ranked(group, assigned) if self.group_clears(group, assigned, film.id)), None
                )
                assigned |= {window.id: best for window in group.windows}
            if assigned == before:
                break
        return self._without_broken(assigned)

    def _without_broken(self, assigned: _Assigned) -> _Assigned:
        """Films that no longer clear once all are on are taken off again: nothing unlawful is proposed."""
        for _ in self.groups:
            car = self.car(assigned)
            broken = [
                group
                for group in self.groups
                if any(self.word(window, car) not in (None, VerdictWord.CLEARS) for window in group.windows)
            ]
            if not broken:
                break
            assigned = assigned | {window.id: None for window in broken[-1].windows}
        return assigned

    def darkest_first(self, _: _Group, __: _Assigned) -> Sequence[Film]:
        """All films, darkest first."""
        return list(self.films.values())

    def match_rear(self) -> _Assigned:
        """The rear stays as the factory made it, or gets the darkest; the fronts come as near as is lawful."""

        def ranked(group: _Group, assigned: _Assigned) -> Sequence[Film]:
            if group.position is not Position.FRONT_SIDE:
                return [] if group.privacy else self.darkest_first(group, assigned)
            target = self._rear_vlt(assigned)
            if target is None:
                return self.darkest_first(group, assigned)
            first = group.windows[0]
            return sorted(self.films.values(), key=lambda film: (abs(self._vlt(first, film.id) - target), film.id))

        return self.settle(ranked)

    def _rear_vlt(self, assigned: _Assigned) -> float | None:
        figures = [
            self._vlt(window, assigned[window.id])
            for group in self.groups
            if group.position is not Position.FRONT_SIDE
            for window in group.windows
            if self.pane(window, assigned[window.id]).in_view
        ]
        return sum(figures) / len(figures) if figures else None

    def _vlt(self, window: Window, film_id: str | None) -> float:
        seen = self.pane(window, film_id).in_view
        return seen.vlt if seen else 1.0

    def one_film(self) -> _Assigned | None:
        """The darkest film that clears on all windows at once; privacy glass stays as it is."""
        clear_groups = [group for group in self.groups if not group.privacy] or self.groups
        for film_id in self.films:
            assigned = self._bare | {window.id: film_id for group in clear_groups for window in group.windows}
            if all(self.group_clears(group, assigned, film_id) for group in clear_groups):
                return assigned
        return None

    def coolest(self) -> _Assigned | None:
        """By solar heat kept out, of the films whose data say so."""
        heat = {
            film.id: side.tser
            for film in self.films.values()
            if (side := heat_side(film, bare_vlt=None, combined_vlt=None, starting=self.starting)).tser is not None
        }
        if not heat:
            return None
        order = sorted(heat, key=lambda film_id: (-(heat[film_id] or 0.0), film_id))
        return self.settle(lambda _, __: [self.films[film_id] for film_id in order])

    def proposal(self, kind: ProposalKind, assigned: _Assigned) -> Proposal:
        """The windows of a settled choice, with what else would clear on each."""
        car = self.car(assigned)
        windows, still_open = [], []
        for group in self.groups:
            able = [film_id for film_id in self.films if self.group_clears(group, assigned, film_id)]
            for window in group.windows:
                film_id = assigned[window.id]
                seen = self.pane(window, film_id).in_view
                others = tuple(one for one in able if one != film_id)
                windows.append(
                    ProposedWindow(window.id, film_id, seen.vlt if seen else None, self.word(window, car), others)
                )
                if not able:
                    still_open.append(window.id)
        return Proposal((kind,), tuple(windows), tuple(still_open))


def _groups(windows: Sequence[Window], starting: StartingValues) -> list[_Group]:
    groups: list[_Group] = []
    for position in _GROUPED:
        remaining = [w for w in windows if w.position is position and w.glass_type is not GlassType.PLASTIC]
        while remaining:
            first = remaining[0]
            alike = [window for window in remaining if _alike(first, window, starting)]
            remaining = [window for window in remaining if window not in alike]
            glass = glass_under(first, starting=starting)
            privacy = first.factory_glass is True or (
                first.factory_glass is None and glass is not None and glass.vlt < starting["privacy_glass_below"]
            )
            groups.append(_Group(position, tuple(alike), privacy))
    return groups


def _alike(one: Window, other: Window, starting: StartingValues) -> bool:
    first, second = glass_under(one, starting=starting), glass_under(other, starting=starting)
    if first is None or second is None:
        return first is second
    return abs(first.vlt - second.vlt) <= _ALIKE and one.is_strip == other.is_strip
