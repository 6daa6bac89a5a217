"""What each word of the vocabulary finds for a pane on its car."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from elumbra.core.glass import Position
from elumbra.core.law.case import NO_FILM, Case, bare_glass_question, compared, pane_name
from elumbra.core.law.conditions import Condition, Word
from elumbra.core.law.facts import Asks, PaneFacts, Question
from elumbra.core.law.finding import Finding, State, of_all, of_any
from elumbra.core.law.of_film import ABOUT_FILM, alone
from elumbra.core.law.strips import seat_height, strip_depth
from elumbra.core.light import (
    Combined,
    percent,
)

_MIRRORED = Finding(State.KEPT, "Outside mirrors on both sides.")


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
        if one.state is State.KEPT and not one.close and not one.within:
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
            return Finding(State.KEPT, NO_FILM)
        return Finding(State.BROKEN, lambda: f"{law.name} allows no film {case.where}.", barred=True)
    if limit is None:
        return Finding(State.NO_RULE, lambda: f"{law.name}: no rule on file {case.where}.")
    if law.basis == "film":
        return alone(case, limit)
    return _light(case, case.pane.combined, limit)


def _this_window(condition: Condition, case: Case) -> Finding:
    return _light(case, case.pane.combined, condition.least or 0.0)


def _light(case: Case, passed: Combined | None, limit: float) -> Finding:
    def asked() -> str:
        return f"{case.law.name}'s {percent(limit)} {case.where}"

    if passed is None:
        return Finding(
            State.CANNOT_TELL, lambda: f"What the bare glass passes is not known, to hold against {asked()}.",
            questions=(bare_glass_question(case.pane),),
        )  # fmt: skip
    return compared(case, passed.vlt, passed.pm, limit, asked)


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
        seen = pane.as_metered
        if seen is None:
            words = f"{pane_name(pane)} is not metered."
            found.append(Finding(State.CANNOT_TELL, words, questions=(bare_glass_question(pane),)))
            continue
        one = compared(
            case, seen.vlt, seen.pm, limit, lambda: f"the {percent(limit)} asked of it", f"{pane_name(pane)}: "
        )
        # The light test belongs to another pane: a lighter film here does not mend it.
        found.append(one._replace(barred=one.state is State.BROKEN, light=None))
    return of_all(found) if found else Finding(State.KEPT, lambda: f"There is no {_places(condition)} glass.")


def _no_film_on(condition: Condition, case: Case) -> Finding:
    filmed = [pane for pane in case.car.at(condition.at, but=case.pane) if pane.layers]
    if filmed:
        return Finding(State.BROKEN, f"{pane_name(filmed[0])} carries film.", barred=True)
    missing = _missing_panes(condition, case)
    return of_all(missing) if missing else Finding(State.KEPT, lambda: f"No film on the {_places(condition)} glass.")


def _factory_glass(condition: Condition, case: Case) -> Finding:
    if not condition.at:
        return _one_factory(case.pane, alone=False)
    found = _missing_panes(condition, case)
    found += [_one_factory(pane, alone=True) for pane in case.car.at(condition.at, but=case.pane)]
    return of_all(found) if found else Finding(State.KEPT, lambda: f"There is no {_places(condition)} glass.")


def _one_factory(pane: PaneFacts, *, alone: bool) -> Finding:
    name = pane_name(pane)
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


_BUILT_WORDS = {"truck_chassis": "built on a truck chassis", "off_road_parts": "fitted with parts for off-road use"}


def _built_as(condition: Condition, case: Case) -> Finding:
    """The state's own definition of a multipurpose vehicle."""
    most, car = int(condition.most or 0), case.car
    means = f"{case.law.name} means at most {most} persons, and " + " or ".join(
        _BUILT_WORDS[name] for name in condition.among
    )
    answers = {name: getattr(car, name) for name in condition.among}
    if car.persons is not None and car.persons > most:
        return Finding(State.BROKEN, f"Made for {car.persons} persons; {means}.", barred=True)
    if all(answer is False for answer in answers.values()):
        return Finding(State.BROKEN, f"Neither is said of this vehicle: {means}.", barred=True)
    if car.persons is not None and any(answers.values()):
        return Finding(State.KEPT, f"A multipurpose vehicle: {means}.")
    if car.persons is None:
        question = Question(Asks.BUILT_AS, "How many persons is the vehicle made to carry?", fact="persons")
    else:
        name = next(name for name, answer in answers.items() if answer is None)
        question = Question(Asks.BUILT_AS, f"Is the vehicle {_BUILT_WORDS[name]}?", fact=name)
    return Finding(State.CANNOT_TELL, f"Whether this is a multipurpose vehicle is not known: {means}.",
                   questions=(question,))  # fmt: skip


def _settled(condition: Condition, case: Case) -> Finding:
    reading = case.law.readings.get(condition.key)
    text = reading.question if reading else condition.key
    holds = reading.in_use if reading else None
    if reading is None or holds is None:
        question = Question(Asks.LAW, text, law_field=f"readings.{condition.key}")
        return Finding(State.CANNOT_TELL, "The law can be read two ways here.", questions=(question,))
    answer = "Yes" if holds else "No"
    how = "" if reading.holds is not None else ", the stricter way, until the shop settles it"
    if holds:
        return Finding(State.KEPT, f"{text} {answer}{how}.")
    return Finding(State.BROKEN, f"{text} {answer}{how}.", barred=True)


_Finder = Callable[[Condition, Case], Finding]
_FINDERS: Mapping[Word, _Finder] = {
    Word.ALL: _all,
    Word.ANY: _any,
    Word.FLOOR: _floor,
    Word.THIS_WINDOW: _this_window,
    Word.OTHER_WINDOWS: _other_windows,
    Word.NO_FILM_ON: _no_film_on,
    **ABOUT_FILM,
    Word.FACTORY_GLASS: _factory_glass,
    Word.OUTSIDE_MIRRORS: _outside_mirrors,
    Word.REGISTERED_AS: _registered_as,
    Word.BUILT_AS: _built_as,
    Word.MODEL_YEAR: _model_year,
    Word.STRIP: lambda condition, case: strip_depth(condition, case.pane, case.law.name),
    Word.SEAT_HEIGHT: lambda condition, case: seat_height(condition, case.pane, case.law.name),
    Word.SETTLED: _settled,
}
