"""What each word of the vocabulary finds for a pane on its car."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.law.conditions import Condition, Word
from elumbra.core.law.facts import Asks, CarFacts, PaneFacts, Question
from elumbra.core.law.finding import Finding, LightTest, State, of_all, of_any
from elumbra.core.law.records import Jurisdiction
from elumbra.core.law.strips import seat_height, strip_depth
from elumbra.core.light import (
    Combined,
    bare_glass_reflectance,
    film_alone,
    percent,
    risk_below,
)
from elumbra.core.starting import StartingValues

_SAME_SHARE = 1e-9  # a figure this near its limit is at it: rounding, not light
_NO_FILM = "There is no film on it."
_NO_BAR = "No rule on file about reflection; this film reflects no more than bare glass, which no rule can bar."
_MIRRORED = Finding(State.KEPT, "Outside mirrors on both sides.")
_NO_MIRROR = Finding(State.KEPT, "Not mirrored.")
_NO_COLOUR = Finding(State.KEPT, "Not one of the banned colours.")


class Case(NamedTuple):
    """One pane of one car under one record."""

    law: Jurisdiction
    pane: PaneFacts
    car: CarFacts
    starting: StartingValues
    film: Film | None  # the pane's own

    @property
    def where(self) -> str:
        """The pane's legal position in words, with its preposition."""
        if self.pane.is_strip:
            return "in the strip"
        words = self.pane.position.value.replace("_", " ")
        below = " below the strip" if self.pane.position is Position.WINDSHIELD else ""
        return f"at the {words}{below}"


def find(condition: Condition, case: Case) -> Finding:
    """Evaluate a condition, three-valued: what is not known is never taken for kept."""
    return _FINDERS[condition.word](condition, case)


def _all(condition: Condition, case: Case) -> Finding:
    """Every part; of several unknown ones only the first is asked, for its answer may make the rest moot."""
    found = [find(part, case) for part in condition.parts]
    whole = of_all(found)
    if whole.state is not State.CANNOT_TELL:
        return whole
    first = next(one for one in found if one.state is State.CANNOT_TELL)
    return whole._replace(questions=first.questions)


def _any(condition: Condition, case: Case) -> Finding:
    found = []
    for part in condition.parts:
        one = find(part, case)
        if one.state is State.KEPT and not one.close:
            return one
        found.append(one)
    return of_any(found)


def _floor(condition: Condition, case: Case) -> Finding:
    """The table's figure; ``clauses_for`` has put it into the condition."""
    law, kind, limit = case.law, condition.floor, condition.least
    if kind == "no_floor":
        return Finding(State.KEPT, lambda: f"{law.name} sets no least light {case.where}.")
    if kind == "none_allowed":
        if case.film is None:
            return Finding(State.KEPT, _NO_FILM)
        return Finding(State.BROKEN, lambda: f"{law.name} allows no film {case.where}.", barred=True)
    if limit is None:
        return Finding(State.NO_RULE, lambda: f"{law.name}: no rule on file {case.where}.")
    if law.basis == "film":
        return _alone(case, limit)
    return _light(case, case.pane.combined, limit)


def _this_window(condition: Condition, case: Case) -> Finding:
    return _light(case, case.pane.combined, condition.least or 0.0)


def _light(case: Case, passed: Combined | None, limit: float) -> Finding:
    def asked() -> str:
        return f"{case.law.name}'s {percent(limit)} {case.where}"

    if passed is None:
        question = Question(Asks.BARE_VLT, f"What does the bare glass of {_name(case.pane)} pass?", case.pane.id)
        return Finding(
            State.CANNOT_TELL, lambda: f"What the bare glass passes is not known, to hold against {asked()}.",
            questions=(question,),
        )  # fmt: skip
    return _compared(case, passed.vlt, passed.pm, limit, asked)


def _compared(case: Case, vlt: float, pm: float, limit: float, asked: Callable[[], str], subject: str = "") -> Finding:
    """A figure against a limit: broken when its mean is under, close when a meter may well read under."""
    test = LightTest(vlt, limit, risk_below(vlt, pm, limit, starting=case.starting))
    if vlt < limit - _SAME_SHARE:
        return Finding(
            State.BROKEN,
            lambda: f"{subject}{percent(vlt)} is {100 * (limit - vlt):.1f} points under {asked()}.",
            light=test,
        )
    close = test.risk > case.starting["clears_risk"]

    def over() -> str:
        words = f"{subject}{percent(vlt)} is {100 * (vlt - limit):.1f} points over {asked()}"
        return f"{words}, yet a meter may read under it: {_chance(test.risk)}." if close else f"{words}."

    return Finding(State.KEPT, over, close=close, light=test)


def _chance(risk: float) -> str:
    return f"{risk * 100:.0f} chances in 100" if risk >= 0.01 else "under 1 chance in 100"


def _name(pane: PaneFacts) -> str:
    return pane.label or f"the {pane.position.value.replace('_', ' ')}"


def _places(condition: Condition) -> str:
    return " or ".join(position.value.replace("_", " ") for position in Position if position in condition.at)


def _missing_panes(condition: Condition, case: Case) -> list[Finding]:
    """Positions the law looks at that nobody has listed on this car."""
    found = []
    for position in case.car.not_listed(condition.at):
        words = position.value.replace("_", " ")
        question = Question(
            Asks.GLASS_THERE, f"Is there {words} glass on this vehicle? Add it at Survey, or say there is none.",
            position=position,
        )  # fmt: skip
        found.append(Finding(State.CANNOT_TELL, f"No {words} glass is listed.", questions=(question,)))
    return found


def _other_windows(condition: Condition, case: Case) -> Finding:
    limit = condition.least or 0.0
    found = _missing_panes(condition, case)
    for pane in case.car.at(condition.at, but=case.pane):
        seen = pane.in_view
        if seen is None:
            question = Question(Asks.BARE_VLT, f"What does the bare glass of {_name(pane)} pass?", pane.id)
            found.append(Finding(State.CANNOT_TELL, f"{_name(pane)} is not metered.", questions=(question,)))
            continue
        one = _compared(case, seen.vlt, seen.pm, limit, lambda: f"the {percent(limit)} asked of it", f"{_name(pane)}: ")
        # The light test belongs to another pane: a lighter film here does not mend it.
        found.append(Finding(one.state, one.tell, barred=one.state is State.BROKEN, close=one.close))
    return of_all(found) if found else Finding(State.KEPT, lambda: f"There is no {_places(condition)} glass.")


def _no_film_on(condition: Condition, case: Case) -> Finding:
    filmed = [pane for pane in case.car.at(condition.at, but=case.pane) if pane.layers]
    if filmed:
        return Finding(State.BROKEN, f"{_name(filmed[0])} carries film.", barred=True)
    missing = _missing_panes(condition, case)
    return of_all(missing) if missing else Finding(State.KEPT, lambda: f"No film on the {_places(condition)} glass.")


def _film_alone(condition: Condition, case: Case) -> Finding:
    return _alone(case, condition.least or 0.0)


def _alone(case: Case, limit: float) -> Finding:
    if case.film is None:
        return Finding(State.KEPT, _NO_FILM)
    vlt, pm = film_alone(case.film, starting=case.starting)
    return _compared(
        case, vlt, pm, limit, lambda: f"the {percent(limit)} asked of the film by itself", "The film alone: "
    )


def _film_reflects(condition: Condition, case: Case) -> Finding:
    if condition.most is None:
        return _reflection_unknown(case)
    if condition.most >= 1:
        return Finding(State.KEPT, "The law sets nothing about reflection.")
    return _reflects(case, None if case.film is None else case.film.reflectance, condition.most, "Reflects")


def _window_reflects(condition: Condition, case: Case) -> Finding:
    if condition.most is None:
        return _reflection_unknown(case)
    figure = None if case.film is None else case.film.reflectance
    if figure is not None and case.pane.window_reflectance is not None:
        figure = case.pane.window_reflectance
    return _reflects(case, figure, condition.most, "Glass and film reflect")


def _reflects(case: Case, figure: float | None, most: float, subject: str) -> Finding:
    if case.film is None:
        return Finding(State.KEPT, _NO_FILM)
    if figure is None:
        text = f"How much does {case.film.name} reflect? At most {percent(most)} is allowed."
        question = Question(Asks.FILM_REFLECTANCE, text, case.pane.id)
        return Finding(State.CANNOT_TELL, "Reflectance is not in the film's data.", questions=(question,))

    def words() -> str:
        return f"{subject} {percent(figure)}; {case.law.name} allows at most {percent(most)}."

    return Finding(State.BROKEN, words, barred=True) if figure > most else Finding(State.KEPT, words)


def _no_mirror_finish(_: Condition, case: Case) -> Finding:
    if case.film is not None and case.film.mirror_finish:
        return Finding(State.BROKEN, f"{case.law.name} allows no mirror finish.", barred=True)
    return _NO_MIRROR


def _reflection_unknown(case: Case) -> Finding:
    """No rule on file about reflection: kept only by film that gives back no more than bare glass does."""
    film, bare = case.film, bare_glass_reflectance(starting=case.starting)
    if film is None or (film.reflectance is not None and film.reflectance <= bare and not film.mirror_finish):
        return Finding(State.KEPT, _NO_BAR)
    return Finding(State.NO_RULE, lambda: f"{case.law.name}: no rule on file about reflection.")


def _film_colour_not(condition: Condition, case: Case) -> Finding:
    if case.film is not None and case.film.colour.lower() in condition.among:
        return Finding(State.BROKEN, f"{case.law.name} bans {case.film.colour} film.", barred=True)
    return _NO_COLOUR


def _film_clear(_: Condition, case: Case) -> Finding:
    if case.film is None or case.film.is_clear:
        return Finding(State.KEPT, "Clear, colourless film.")
    return Finding(State.BROKEN, f"{case.film.name} is not a clear, colourless film.", barred=True)


def _film_layers(condition: Condition, case: Case) -> Finding:
    most = int(condition.most or 1)
    if case.pane.layers > most:
        return Finding(State.BROKEN, f"{case.pane.layers} sheets of film; at most {most} allowed.", barred=True)
    return Finding(State.KEPT, f"{case.pane.layers} sheet of film.")


def _factory_glass(condition: Condition, case: Case) -> Finding:
    if not condition.at:
        return _one_factory(case.pane, alone=False)
    found = _missing_panes(condition, case)
    found += [_one_factory(pane, alone=True) for pane in case.car.at(condition.at, but=case.pane)]
    return of_all(found) if found else Finding(State.KEPT, lambda: f"There is no {_places(condition)} glass.")


def _one_factory(pane: PaneFacts, *, alone: bool) -> Finding:
    name = _name(pane)
    if alone and pane.layers:
        return Finding(State.BROKEN, f"{name} carries film besides its own tint.", barred=True)
    if pane.factory_glass is None:
        question = Question(Asks.FACTORY_GLASS, f"Is {name} factory privacy glass?", pane.id)
        return Finding(State.CANNOT_TELL, f"Whether {name} was made dark is not known.", questions=(question,))
    if pane.factory_glass:
        return Finding(State.KEPT, f"{name} is factory privacy glass.")
    return Finding(State.BROKEN, f"{name} is not factory privacy glass.", barred=True)


def _outside_mirrors(condition: Condition, case: Case) -> Finding:
    match case.car.mirrors_both_sides:
        case True:
            return _MIRRORED
        case False if condition.key == "unknown":
            words = f"{case.law.name}: whether both outside mirrors are asked for is not on file."
            return Finding(State.NO_RULE, words)
        case False:
            words = f"{case.law.name} asks for outside mirrors on both sides when this glass is tinted."
            return Finding(State.BROKEN, words, barred=True)
        case _:
            question = Question(Asks.MIRRORS, "Are there outside mirrors on both sides?")
            return Finding(State.CANNOT_TELL, "Mirrors are not known.", questions=(question,))


def _registered_as(condition: Condition, case: Case) -> Finding:
    registered = case.car.registered_as
    if registered is None:
        question = Question(Asks.REGISTERED_AS, "What is the vehicle registered as?")
        return Finding(State.CANNOT_TELL, "The class on the registration is not known.", questions=(question,))
    words = f"Registered as {registered.value.replace('_', ' ').replace('suv', 'SUV')}"
    if registered.value in condition.among:
        return Finding(State.KEPT, f"{words}, which the exception covers.")
    return Finding(State.BROKEN, f"{words}, which the exception does not cover.", barred=True)


def _model_year(condition: Condition, case: Case) -> Finding:
    first, year = int(condition.least or 0), case.car.model_year
    if year is None:
        question = Question(Asks.MODEL_YEAR, "Which model year is the vehicle?")
        return Finding(State.CANNOT_TELL, "The model year is not known.", questions=(question,))
    if year >= first:
        return Finding(State.KEPT, f"Model year {year}: the section covers {first} and later.")
    return Finding(State.NO_RULE, f"Model year {year}: {condition.key or 'another section holds, not on file.'}")


def _settled(condition: Condition, case: Case) -> Finding:
    reading = case.law.readings.get(condition.key)
    text = reading.question if reading else condition.key
    if reading is None or reading.holds is None:
        question = Question(Asks.LAW, text, law_field=f"readings.{condition.key}")
        return Finding(State.CANNOT_TELL, "The law can be read two ways here.", questions=(question,))
    if reading.holds:
        return Finding(State.KEPT, f"{text} Yes.")
    return Finding(State.BROKEN, f"{text} No.", barred=True)


_Finder = Callable[[Condition, Case], Finding]
_FINDERS: Mapping[Word, _Finder] = {
    Word.ALL: _all,
    Word.ANY: _any,
    Word.FLOOR: _floor,
    Word.THIS_WINDOW: _this_window,
    Word.OTHER_WINDOWS: _other_windows,
    Word.NO_FILM_ON: _no_film_on,
    Word.FILM_ALONE: _film_alone,
    Word.FILM_REFLECTS: _film_reflects,
    Word.WINDOW_REFLECTS: _window_reflects,
    Word.NO_MIRROR_FINISH: _no_mirror_finish,
    Word.FILM_COLOUR_NOT: _film_colour_not,
    Word.FILM_CLEAR: _film_clear,
    Word.FILM_LAYERS: _film_layers,
    Word.FACTORY_GLASS: _factory_glass,
    Word.OUTSIDE_MIRRORS: _outside_mirrors,
    Word.REGISTERED_AS: _registered_as,
    Word.MODEL_YEAR: _model_year,
    Word.STRIP: lambda condition, case: strip_depth(condition, case.pane, case.law.name),
    Word.SEAT_HEIGHT: lambda condition, case: seat_height(condition, case.pane, case.law.name),
    Word.SETTLED: _settled,
}
