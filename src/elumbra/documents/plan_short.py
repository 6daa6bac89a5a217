"""What is short of a film, and what would do: a part of the plan document."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from elumbra.core.units import format_inches


class PlanPart(BaseModel):
    """Any part of a plan document."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_serialization_defaults_required=True)


class PlanLonger(PlanPart):
    """An item of the rack with which all pieces would fit if it were so much longer."""

    stock_id: str
    label: str
    more_mm: float  # to the sixteenth
    at_least_mm: float  # less surely does not do; the same where that is exact


class PlanNewRoll(PlanPart):
    """A new roll beside the rack as it is, with which all pieces fit."""

    width_mm: float
    length_mm: float  # to the sixteenth
    at_least_mm: float


class PlanPlay(PlanPart):
    """The extra that a window's blank is left with, each side."""

    window_id: str
    play_mm: float


class PlanLessExtra(PlanPart):
    """The one smallest reduction of extra for all hand-cut blanks of the film with which all fit."""

    less_mm: float  # each side
    windows: list[PlanPlay]


class PlanOtherFilm(PlanPart):
    """Another film that clears on the windows left out, and of which the rack has enough."""

    film_id: str
    film_name: str
    window_ids: list[str]
    labels: list[str]


class PlanMost(PlanPart):
    """The most windows that fit, then the dearest ones: those of this plan."""

    windows: int
    of: int
    left_out: list[str]
    split: list[str]  # cut without their twin


class PlanShort(PlanPart):
    """What is short of a film, and what would do."""

    longer: list[PlanLonger]  # least first
    new_rolls: list[PlanNewRoll]  # narrowest first
    less_extra: PlanLessExtra | None
    other_films: list[PlanOtherFilm]
    most: PlanMost

    def lines(self, film_name: str) -> list[str]:
        """What would do, in sentences: more of the film, less extra, another film, or fewer windows."""
        return [*self._more_film(film_name), *self._less_extra(), *self._instead(), self._as_it_is()]

    def _more_film(self, film_name: str) -> list[str]:
        told = []
        if self.longer:
            items = ", or ".join(f"{_does(one.more_mm, one.at_least_mm)} more on {one.label}" for one in self.longer)
            told.append(f"All of it fits with {items}.")
        if self.new_rolls:
            # A wider one is named where less of it does.
            shorter = [
                one for i, one in enumerate(self.new_rolls)
                if all(one.length_mm < other.length_mm for other in self.new_rolls[:i])
            ]  # fmt: skip
            rolls = ", or ".join(
                f"{_does(one.length_mm, one.at_least_mm)} of {format_inches(one.width_mm)} in" for one in shorter
            )
            told.append(f"A new roll of {film_name} would do: {rolls}.")
        return told

    def _less_extra(self) -> list[str]:
        if self.less_extra is None:
            return []
        less = f"{format_inches(self.less_extra.less_mm)} in"
        return [f"With {less} less extra each side on every hand-cut piece, all of it fits."]

    def _instead(self) -> list[str]:
        if not self.other_films:
            return []
        names = ", or ".join(one.film_name for one in self.other_films)
        where = ", ".join(self.other_films[0].labels)
        return [f"Another film clears on {where}, with enough of it on the rack: {names}. It changes the order."]

    def _as_it_is(self) -> str:
        most = self.most
        torn = f" Cut without its twin: {', '.join(most.split)}." if most.split else ""
        return f"As it is, {most.windows} of {most.of} windows are cut; without film: {', '.join(most.left_out)}.{torn}"


def _does(length_mm: float, at_least_mm: float) -> str:
    """A length that does, in inches; where nobody knows that less does not, it says so."""
    words = f"{format_inches(length_mm)} in"
    if at_least_mm >= length_mm:
        return words
    least = f", never less than {format_inches(at_least_mm)} in" if at_least_mm > 0 else ""
    return f"{words} (or less{least})"
