"""What conditions on the film itself find: what it passes alone, gives back, and looks like."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from elumbra.core.film import Colour, Construction
from elumbra.core.law.case import NO_FILM, Case, compared
from elumbra.core.law.conditions import Condition, Word
from elumbra.core.law.facts import Asks, Question
from elumbra.core.law.finding import Finding, State
from elumbra.core.light import bare_glass_reflectance, film_alone, percent

_NO_BAR = "No rule on file about reflection; this film reflects no more than bare glass, which no rule can bar."
_NO_MIRROR = Finding(State.KEPT, "Not mirrored.")
_NO_COLOUR = Finding(State.KEPT, "Not one of the banned colours.")
_PLAIN = Finding(State.KEPT, "Colourless or grey: no colour that could be banned.")


def _film_alone(condition: Condition, case: Case) -> Finding:
    return alone(case, condition.least or 0.0)


def alone(case: Case, limit: float) -> Finding:
    """What the film by itself passes, against a limit; no meter on the car reads that, so no tolerance."""
    if case.film is None:
        return Finding(State.KEPT, NO_FILM)
    vlt, pm = film_alone(case.film, starting=case.starting)
    return compared(
        case, vlt, pm, limit, lambda: f"the {percent(limit)} asked of the film by itself", "The film alone: ",
        metered=False,
    )  # fmt: skip


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
        return Finding(State.KEPT, NO_FILM)
    if figure is None:
        text = f"How much does {case.film.name} reflect? At most {percent(most)} is allowed."
        return Finding(
            State.CANNOT_TELL, "Reflectance is not in the film's data.",
            questions=(_of_film(Asks.FILM_REFLECTANCE, case, text),),
        )  # fmt: skip

    def words() -> str:
        return f"{subject} {percent(figure)}; {case.law.name} allows at most {percent(most)}."

    return Finding(State.BROKEN, words, barred=True) if figure > most else Finding(State.KEPT, words)


def _of_film(asks: Asks, case: Case, text: str) -> Question:
    """A question about the pane's film; asked once, however many panes it is on."""
    assert case.film is not None
    return Question(asks, text, film_id=case.film.id)


def _no_mirror_finish(_: Condition, case: Case) -> Finding:
    """Not metallic or mirrored: as somebody said, else only where sheet and make leave no doubt."""
    film = case.film
    if film is None or film.mirror_finish is False:
        return _NO_MIRROR
    if film.mirror_finish:
        return Finding(State.BROKEN, f"{case.law.name} allows no mirror finish.", barred=True)
    limit = case.starting["mirror_look_from"]
    if film.reflectance is not None and film.reflectance <= limit and film.construction is not Construction.METAL:
        return _NO_MIRROR
    if film.construction is Construction.METAL:
        why = "it is a metal film"
    elif film.reflectance is None:
        why = "its sheet gives no reflectance"
    else:
        why = f"it reflects {percent(film.reflectance)}"
    text = f"Does {film.name} look metallic or mirrored? {case.law.name} bars that, and {why}."
    return Finding(
        State.CANNOT_TELL, f"Whether {film.name} looks mirrored is not said, and {why}.",
        questions=(_of_film(Asks.FILM_FINISH, case, text),),
    )  # fmt: skip


def _non_reflective(condition: Condition, case: Case) -> Finding:
    """Film that does not reflect, where the law gives no figure."""
    finish = _no_mirror_finish(condition, case)
    film, limit = case.film, case.starting["non_reflective_most"]
    if film is None or finish.state is State.BROKEN:
        return finish
    if film.reflectance is None:
        text = f"How much does {film.name} reflect? {case.law.name} asks for film that does not."
        question = _of_film(Asks.FILM_REFLECTANCE, case, text)
        return Finding(State.CANNOT_TELL, "Reflectance is not in the film's data.", questions=(question,))
    if film.reflectance > limit:
        question = Question(
            Asks.LAW, f"How much may a film reflect in {case.law.name}? Its law says “non-reflective”, with no figure.",
            law_field=f"reflectance.{case.pane.position.value}",
        )  # fmt: skip
        words = f"{film.name} reflects {percent(film.reflectance)}; {case.law.name} asks for film that does not."
        return Finding(State.CANNOT_TELL, words, questions=(question,))
    return finish if finish.state is not State.KEPT else Finding(State.KEPT, "Reflects no more than glass does.")


def _reflection_unknown(case: Case) -> Finding:
    """No rule on file about reflection: kept only by film that gives back no more than bare glass does."""
    film, bare = case.film, bare_glass_reflectance(starting=case.starting)
    if film is None or (film.reflectance is not None and film.reflectance <= bare and not film.mirror_finish):
        return Finding(State.KEPT, _NO_BAR)
    return Finding(State.NO_RULE, lambda: f"{case.law.name}: no rule on file about reflection.")


def _film_colour_not(condition: Condition, case: Case) -> Finding:
    film = case.film
    if film is None:
        return _NO_COLOUR
    if not film.colours:
        called = f" Its sheet says “{film.colour_words}”." if film.colour_words else ""
        question = _of_film(Asks.FILM_COLOUR, case, f"Which colour has {film.name} to the eye?{called}")
        return Finding(State.CANNOT_TELL, f"The colour of {film.name} is not known.", questions=(question,))
    if condition.key == "unknown":
        if film.is_plain:
            return _PLAIN
        return Finding(State.NO_RULE, lambda: f"{case.law.name}: no rule on file about colours.")
    if banned := [colour.value for colour in film.colours if colour.value in condition.among]:
        return Finding(State.BROKEN, f"{case.law.name} bans {banned[0]} film.", barred=True)
    return _NO_COLOUR


def _film_clear(_: Condition, case: Case) -> Finding:
    """Colourless, and passing nearly all light by itself: what the film is made of does not tell."""
    film = case.film
    if film is None:
        return Finding(State.KEPT, NO_FILM)
    if not film.colours:
        return _film_colour_not(_ANY_COLOUR, case)
    if film.colours != (Colour.COLOURLESS,):
        return Finding(State.BROKEN, f"{film.name} is not a colourless film.", barred=True)
    passes, least = film_alone(film, starting=case.starting)[0], case.starting["clear_film_least"]
    if passes < least:
        words = f"{film.name} alone passes {percent(passes)}; a clear film passes at least {percent(least)}."
        return Finding(State.BROKEN, words, barred=True)
    return Finding(State.KEPT, "Clear, colourless film.")


_ANY_COLOUR = Condition(Word.FILM_COLOUR_NOT)


def _film_layers(condition: Condition, case: Case) -> Finding:
    most = int(condition.most or 1)
    if case.pane.layers > most:
        return Finding(State.BROKEN, f"{case.pane.layers} sheets of film; at most {most} allowed.", barred=True)
    return Finding(State.KEPT, f"{case.pane.layers} sheet of film.")


ABOUT_FILM: Mapping[Word, Callable[[Condition, Case], Finding]] = {
    Word.FILM_ALONE: _film_alone,
    Word.FILM_REFLECTS: _film_reflects,
    Word.WINDOW_REFLECTS: _window_reflects,
    Word.NO_MIRROR_FINISH: _no_mirror_finish,
    Word.NON_REFLECTIVE: _non_reflective,
    Word.FILM_COLOUR_NOT: _film_colour_not,
    Word.FILM_CLEAR: _film_clear,
    Word.FILM_LAYERS: _film_layers,
}
