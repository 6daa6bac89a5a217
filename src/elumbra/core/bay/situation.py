"""From a car as surveyed, cut and shrunk to what the steps ask, and to the figures in their sentences."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial

from elumbra.core.bay.conditions import Situation
from elumbra.core.bay.day import Day, DayAnswer, SunSide, answer_of, soap_words
from elumbra.core.bay.facts import found_facts
from elumbra.core.bay.steps import StepBook
from elumbra.core.errors import CoreError
from elumbra.core.film import Construction
from elumbra.core.glass import DOORS, Curve, GlassType, WindowKind
from elumbra.core.light import heat_side
from elumbra.core.removal import Case, OldLook, Tool
from elumbra.core.shrink import Piece, ShrinkWord, school_of
from elumbra.core.starting import StartingValues
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, Answers, length_of
from elumbra.core.units import format_inches
from elumbra.core.work import (
    Car,
    Window,
    findings_asked,
    interval_words,
    mirror_pairs,
    no_film_reason,
    window_shrinking,
)

_BULK = ("bulk", "bulk_upright", "bulk_sideways")
_MM_PER_INCH = 25.4


@dataclass(frozen=True)
class Hands:
    """Who works, and how: answers of shop and person to the schools."""

    schools: Mapping[str, str] = field(default_factory=dict)  # by name; ours where nobody said
    shrink: Mapping[str, str] = field(default_factory=dict)  # the shop's own shrink school
    learner: bool = False
    home: bool = False
    metric: bool = False  # lengths in mm

    def school(self, book: StepBook, name: str) -> str:
        """The answer that holds: theirs, else ours for a shop or at home."""
        known = book.schools[name]
        said = self.schools.get(name)
        if said is not None and said in known.options:
            return said
        return known.home if self.home else known.ours


@dataclass(frozen=True)
class Told:
    """A situation with the figures of its sentences."""

    situation: Situation
    figures: Mapping[str, str]


@dataclass(frozen=True)
class Removal:
    """How old film comes off a window, as far as the steps ask."""

    way: str = "heat"
    glue_by: str = "pad"
    came_off: str = "not_yet"
    price: float | None = None
    acknowledged: bool = False


def blank_situation(book: StepBook, hands: Hands) -> dict[str, str]:
    """Every fact where nobody said, every school answered."""
    found = {name: values[0] for name, values in book.known.items()}
    found |= {name: hands.school(book, name) for name in book.schools}
    found["learner"] = _yes(hands.learner)
    found["home"] = _yes(hands.home)
    return found


def car_told(book: StepBook, car: Car, day: Day, hands: Hands, *, part: str) -> Told:
    """The situation of the car as a whole, before or after its windows."""
    found = blank_situation(book, hands) | found_facts(car.job.vehicle.findings, CAR_FINDINGS)
    answer = day_answer(book, day, hands, starting=car.starting)
    hatch = any(window.kind is WindowKind.HATCH and is_worked(window) for window in car.job.windows)
    rough = any("oversprayed" in window.findings.get("condition", ()) for window in car.job.windows)
    found |= _of_day(day, answer)
    found |= {"part": part, "hatch_filmed": _yes(hatch), "condition_oversprayed": _yes(rough)}
    return Told(found, figures_of_day(book, answer, hands, starting=car.starting))


def is_worked(window: Window) -> bool:
    """Whether film goes on a window today."""
    return window.film_id is not None and not no_film_reason(window)


def day_answer(book: StepBook, day: Day, hands: Hands, *, starting: StartingValues) -> DayAnswer:
    """What the day changes, by the school on cold."""
    return answer_of(day, cold_school=hands.school(book, "s_cold"), starting=starting)


def _of_day(day: Day, answer: DayAnswer) -> dict[str, str]:
    return {"temp": answer.temp, "sun": _yes(day.sun is not SunSide.NONE), "wind": _yes(day.wind)}


def window_told(
    book: StepBook,
    car: Car,
    window_id: str,
    day: Day,
    hands: Hands,
    *,
    removal: Removal | None = None,
    pairs: Mapping[str, str] | None = None,
) -> Told:
    """The situation of one window: its film going on, or with ``removal`` its old film coming off.

    Parameters
    ----------
    book, car, window_id, day, hands
        What there is, who works and in what weather.
    removal
        How old film comes off.
    pairs
        Windows that are cut as mirror images, where the caller has them already.
    """
    window, starting = car.window(window_id), car.starting
    pairs = mirror_pairs(car.job.windows) if pairs is None else pairs
    answer = day_answer(book, day, hands, starting=starting)
    asked = set(findings_asked(window))
    findings = {name: one for name, one in window.findings.items() if name in asked}
    found = blank_situation(book, hands)
    found |= found_facts(car.job.vehicle.findings, CAR_FINDINGS) | found_facts(findings, WINDOW_FINDINGS)
    found |= _of_day(day, answer)
    method = window.cut_method or car.job.vehicle.cut_method
    film = car.job.films.get(window.film_id or "")
    shrink = _shrink(car, window, hands)
    combined = car.shades[window_id].combined
    dark = combined is not None and film is not None and combined.vlt < starting["very_dark_below"]
    absorbed = None if film is None else heat_side(film, bare_vlt=None, combined_vlt=None, starting=starting)
    share = absorbed.solar_absorbed if absorbed is not None else None
    dyed = film is not None and film.construction is Construction.DYED
    absorbing = dyed if share is None else share >= starting["absorbing_film_share"]
    found |= {
        "part": "window" if removal is None else "strip",
        "kind": window.kind.value,
        "glass": window.glass_type.value,
        "covers": "strip" if window.is_strip else "full",
        "method": method.value,
        "pieces": "two" if window.strip_pieces == 2 else "one",
        "in_strips": _yes(window.in_strips and not window.is_strip),
        "paired": _yes(window_id in pairs and method.value in _BULK),
        "dark": _yes(dark),
        "absorbing": _yes(absorbing),
        "film_off": _yes(window.old_film_off),
        **shrink.facts,
    }
    if removal is not None:
        found |= {"way": removal.way, "glue_by": removal.glue_by, "came_off": removal.came_off}
    told = _tape(hands)
    figures = figures_of_day(book, answer, hands, starting=starting)
    figures |= {"sheet": _sheet(car, window_id, told)}
    figures |= _cut_figures(window, hands.school(book, "s_top_edge"), told, starting)
    figures |= shrink.figures
    figures |= _reasons(found, removal)
    return Told(found, figures)


def _yes(said: bool) -> str:
    return "yes" if said else "no"


Tape = Callable[[float], str]


def _tape(hands: Hands) -> Tape:
    return _metric if hands.metric else partial(_inches)


def _metric(mm: float) -> str:
    mm += 1e-9  # a half is rounded up
    return f"{mm:.0f} mm" if mm >= 10 else f"{mm:.1f} mm"


def _inches(mm: float) -> str:
    fine = 32 if mm < _MM_PER_INCH / 16 else 16
    return f"{format_inches(mm, denominator=fine)} in"


def figures_of_day(book: StepBook, answer: DayAnswer, hands: Hands, *, starting: StartingValues) -> dict[str, str]:
    """Doses and cure; everything that belongs to a window stays out."""
    shown = hands.school(book, "s_soap")
    days = answer.cure_days
    return {
        "soap": soap_words(answer.soap_ml, shown, starting=starting),
        "soap_rich": soap_words(answer.soap_rich_ml, shown, starting=starting),
        "cure": f"up {days} day{'s' if days > 1 else ''}",
    }


def _cut_figures(window: Window, top_edge: str, told: Tape, starting: StartingValues) -> dict[str, str]:
    guard = length_of(window.findings, "rain_guard") or 0.0
    lower = starting["roll_down_mm"] + max(0.0, guard - starting["guard_free_mm"])
    border = starting["border_allowance_mm"]
    foot = length_of(window.findings, "border_bottom")
    at_foot = border if foot is None else max(border, foot - starting["border_foot_mm"])
    depth = window.readings.get("strip_depth")
    return {
        "lower": told(lower),
        "top": told(starting["clear_line_mm"]) if top_edge == "gap" else f"flush to {told(starting['micro_edge_mm'])}",
        "tuck": told(starting["bottom_tuck_mm"]),
        "shift": told(starting["seal_shift_mm"]),
        "half": told(starting["side_allowance_mm"]),
        "trim": told(starting["trim_outside_mm"]),
        "border": told(border),
        "border_foot": told(at_foot),
        "gasket": told(starting["gasket_tuck_mm"]),
        "housing": told(starting["housing_gap_mm"]),
        "spindle": _two(window, ("spindle_from_left", "spindle_from_foot"), told, otherwise="as it stands"),
        "lamp": _two(window, ("brake_light_width", "brake_light_height"), told, otherwise="measure it first"),
        "spoiler": told(length_of(window.findings, "spoiler") or 0.0),
        "overlap": told(starting["strip_overlap_mm"]),
        "strip_depth": told(depth.mm) if depth is not None else "as ordered",
        "press_top": told(starting["press_top_mm"]),
        "second": told(starting["second_pass_mm"]),
        "guard_low": told(starting["guard_park_mm"]),
        "stop_short": told(starting["stop_short_mm"]),
        "bag": told(starting["bag_over_mm"]),
        "h_side": told(starting["h_side_mm"]),
    }


def _sheet(car: Car, window_id: str, told: Tape) -> str:
    """Size of the black plastic for a pane, over all its edges."""
    outline, over = car.panes[window_id].outline, car.starting["bag_over_mm"]
    if outline is None:
        return "as the pane"
    return _pair(outline.width + 2 * over, outline.height + 2 * over, told)


def _pair(first: float, second: float, told: Tape) -> str:
    return f"{told(first).removesuffix(' in').removesuffix(' mm')} × {told(second)}"


def _two(window: Window, names: tuple[str, str], told: Tape, *, otherwise: str) -> str:
    """Two lengths of the survey in one figure."""
    first, second = (length_of(window.findings, name) for name in names)
    if not first or not second:
        return otherwise
    return _pair(first, second, told)


@dataclass(frozen=True)
class _Shrunk:
    facts: Mapping[str, str]
    figures: Mapping[str, str]


def _shrink(car: Car, window: Window, hands: Hands) -> _Shrunk:
    """How the film is shrunk. What cannot be worked out counts as curved: not knowing asks for no less care."""
    told = _tape(hands)
    rough = not {"pitted", "oversprayed"}.isdisjoint(window.findings.get("condition", ()))
    try:
        shrunk = window_shrinking(car, window.id)
        laid = shrunk.laid
        verdict = shrunk.verdict
        word, words = verdict.word, interval_words(verdict.shrink)
        cross = told(laid.placed.middle)
        strips = str(len(shrunk.strips))
        width = max(laid.piece.ring[:, 0]) - min(laid.piece.ring[:, 0])
        number = 2 * max(1, round(float(width) / car.starting["finger_wave_mm"]))
        fingers = f"{number} of about {told(car.starting['finger_wave_mm'])}"
    except CoreError:
        word = _unlaid(window)
        words, cross, strips, fingers = "not worked out", "half way", "0", "narrow ones"
    school = {one.ask.value: one.answer for one in school_of(Piece(word, window.kind, rough, window.is_strip),
                                                             preferred=hands.shrink)}  # fmt: skip
    facts = {"how": school["how"], "near_limit": _yes(word in (ShrinkWord.HARD, ShrinkWord.WILL_NOT))}
    facts |= {"water": school.get("water", "dry"), "press": school.get("hand", "glove")}
    facts |= {"where": school.get("place", "car")}
    return _Shrunk(facts, {"shrink": words, "cross": cross, "strips": strips, "fingers": fingers})


def _unlaid(window: Window) -> ShrinkWord:
    """What film takes that could not be laid: glass called flat is taken for flat, but for a door's bottom edge."""
    if window.measures.curve is not Curve.FLAT:
        return ShrinkWord.CARD
    return ShrinkWord.SNAP if window.kind in DOORS else ShrinkWord.FLAT


def _reasons(found: Situation, removal: Removal | None) -> dict[str, str]:
    """Why heat needs care, why no razor, why the liner comes off whole; what was signed."""
    heat = [
        words
        for words, there in (
            ("chipped", found["condition_chipped"] == "yes"),
            ("laminated", found["glass"] == GlassType.LAMINATED),
            ("maker’s mark not read", found["glass"] == GlassType.UNKNOWN),
            ("cold", found["temp"] == "cold"),
            ("absorbing film", found["absorbing"] == "yes"),
        )
        if there
    ]
    price = "risk and price" if removal is None or removal.price is None else f"risk and price, {removal.price:.0f} $"
    return {
        "heat_why": ", ".join(heat).removesuffix(" film") or "glass breaks",
        "pad_why": _no_razor(found),
        "peel_why": _whole_liner(found),
        "ack": price,
    }


def _no_razor(found: Situation) -> str:
    if found["glass"] in (GlassType.LAMINATED, GlassType.COATED):
        return "Laminated or coated glass takes no razor"
    if found["glass"] == GlassType.UNKNOWN:
        return "Nobody has read the mark on the glass"
    if found["defroster"] == "yes" or (found["defroster"] == "unsaid" and found["kind"] in ("back_glass", "hatch")):
        return "A razor ends the lines for good"
    if found["antenna"] != "no" and found["kind"] not in ("framed_door", "frameless_door"):
        return "A razor ends a printed antenna"
    if found["age"] == "new":
        return "Brand-new glass needs the pad only"
    return "Pad only is the school here"


def _whole_liner(found: Situation) -> str:
    if found["weather_strip"] in ("easy", "tight"):
        return "With the weather strip out it goes whole"
    if found["kind"] == "frameless_door":
        return "Frameless glass takes it in one"
    if found["method"] == "trim":
        return "Trimmed in place, it goes on whole"
    return "This shop peels it whole"


_COLDEST_C = -50.0


def case_of(window: Window, day: Day, tools: frozenset[Tool]) -> Case:
    """A window with old film as the adviser asks."""
    found: Answers = window.findings
    years, looks = found.get("old_film_years"), found.get("old_film_look", ())
    return Case(
        kind=window.kind,
        glass=window.glass_type,
        years=int(str(years)) if years is not None else None,
        two_layers=found.get("old_film_layers") == "two",
        looks=frozenset(OldLook(one) for one in looks if one in list(OldLook)),
        lines=_lines(found),
        chipped="chipped" in found.get("condition", ()),
        celsius=day.coldest if day.outside_low_c is None else max(day.outside_low_c, day.coldest or _COLDEST_C),
        sun=day.sun is not SunSide.NONE,
        night=window.strip_night,
        tools=tools,
    )


def _lines(found: Answers) -> bool | None:
    """Whether there are printed lines; None while one of the two was not looked for and the other is not there."""
    said = [found.get("defroster"), found.get("antenna")]
    if "yes" in said:
        return True
    return False if said == ["no", "no"] else None
