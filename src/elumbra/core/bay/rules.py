"""The hard rules of the work, and whether any situation can break one.

A rule looks at a sequence of steps, each with the condition under which it is there, and tells how it could
be broken: a condition over the facts. For the step file's sequence that condition must never hold, whatever
is combined (``prove``); for a run that is there, its steps are always there, and it is simply asked.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from elumbra.core.bay.conditions import ALWAYS, Condition, Situation, all_of, any_of, is_, not_
from elumbra.core.bay.run import EDGE_THINGS, Run
from elumbra.core.bay.steps import Does, Effect, Step, StepBook


@dataclass(frozen=True)
class Placed:
    """A step at its place, and when it is there."""

    step: Step
    when: Condition

    def does(self, *words: Does) -> bool:
        """Whether it does one of these."""
        return any(effect.does in words for effect in self.step.effects)


@dataclass(frozen=True)
class Break:
    """One way in which a rule is broken."""

    words: str
    when: Condition


Steps = Sequence[Placed]


@dataclass(frozen=True)
class Rule:
    """A hard rule with its sentence and section."""

    name: str
    sentence: str
    section: str
    breaks: Callable[[Steps], Iterator[Break]]


def of_book(book: StepBook) -> tuple[Placed, ...]:
    """The file's whole sequence."""
    return tuple(Placed(one.step, one.when) for one in book.sequence)


def of_run(run: Run) -> tuple[Placed, ...]:
    """A run that is there."""
    return tuple(Placed(one.step, ALWAYS) for one in run.steps)


def broken(run: Run, situation: Situation) -> list[str]:
    """The rules that a run breaks, in words; empty where it keeps them all."""
    steps = of_run(run)
    return [f"{rule.name}: {one.words}" for rule in RULES for one in rule.breaks(steps) if one.when.holds(situation)]


Point = tuple[int, int, Effect]


def _effects(steps: Steps, *words: Does) -> list[Point]:
    """Where in the sequence these things are done: step, place within the step, effect."""
    return [
        (i, k, effect)
        for i, one in enumerate(steps)
        for k, effect in enumerate(one.step.effects)
        if effect.does in words
    ]


def _between(points: Sequence[Point], start: Point, end: Point) -> list[Point]:
    return [one for one in points if start[:2] < one[:2] < end[:2]]


def _unmended(
    steps: Steps, spoils: Sequence[Point], asks: Sequence[Point], mends: Sequence[Point], words: str
) -> Iterator[Break]:
    """Something spoils a part, and what needs it sound comes with nothing in between that mends it."""
    for ask in asks:
        for spoil in spoils:
            if spoil[:2] >= ask[:2] or not spoil[2].reaches(ask[2]):
                continue
            cures = [
                one
                for one in _between(mends, spoil, ask)
                if one[2].on in ("all", ask[2].on) or one[2].on == spoil[2].on
            ]
            when = all_of(
                steps[spoil[0]].when, steps[ask[0]].when, *(not_(steps[i].when) for i in {one[0] for one in cures})
            )
            yield Break(words.format(steps[ask[0]].step.id, steps[spoil[0]].step.id), when)


def _razor(steps: Steps) -> Iterator[Break]:
    lines = any_of(is_("defroster", "yes"), is_("antenna", "yes"), is_("glass", "laminated", "coated", "unknown"))
    for one in steps:
        if one.does(Does.RAZOR):
            yield Break(f"{one.step.id} with a razor", all_of(one.when, lines))


def _solvent(steps: Steps) -> Iterator[Break]:
    for one in steps:
        if one.does(Does.SOLVENT):
            yield Break(f"{one.step.id} with solvent in the sun", all_of(one.when, is_("sun", "yes")))


_UNFIT = ("cracked", "etched", "scratched", "frosted", "drilled", "leaded")


def _unfit(steps: Steps) -> Iterator[Break]:
    unfit = any_of(is_("glass", "plastic"), *(is_(f"condition_{one}", "yes") for one in _UNFIT))
    for one in steps:
        if one.does(Does.ADHESIVE, Does.SHRINK, Does.TACK, Does.PRESS, Does.HEAT):
            yield Break(f"{one.step.id} on unfit glass", all_of(one.when, is_("part", "window"), unfit))
    rags = [i for i, one in enumerate(steps) if one.does(Does.RAG)]
    for i, one in enumerate(steps):
        if one.does(Does.SHRINK):
            none = [not_(steps[k].when) for k in rags if k < i]
            rough = any_of(is_("condition_pitted", "yes"), is_("condition_oversprayed", "yes"))
            yield Break(f"{one.step.id} on rough glass without a rag", all_of(one.when, rough, *none))


def _rinsed(steps: Steps) -> Iterator[Break]:
    spoils = _effects(steps, Does.TOUCH)
    moved = [(i, k, Effect(e.does, "all")) for i, k, e in _effects(steps, Does.RAISE, Does.LOWER)]
    meets, rinses = _effects(steps, Does.ADHESIVE), _effects(steps, Does.RINSE)
    yield from _unmended(steps, [*spoils, *moved], meets, rinses, "{} meets glass not rinsed since {}")
    for i, k, effect in meets:
        none = [not_(steps[one[0]].when) for one in rinses if one[:2] < (i, k) and one[2].reaches(effect)]
        yield Break(f"{steps[i].step.id} meets glass that was never rinsed", all_of(steps[i].when, *none))


def _cloth(steps: Steps) -> Iterator[Break]:
    cloths, squeegees, meets = (_effects(steps, one) for one in (Does.CLOTH, Does.SQUEEGEE, Does.ADHESIVE))
    for cloth in cloths:
        for meet in (one for one in meets if one[:2] > cloth[:2]):
            none = [not_(steps[one[0]].when) for one in _between(squeegees, cloth, meet)]
            when = all_of(steps[cloth[0]].when, steps[meet[0]].when, is_("home", "no"), *none)
            yield Break(f"{steps[cloth[0]].step.id} after the last squeegee", when)
    for cloth in cloths:
        yield Break(f"{steps[cloth[0]].step.id} at the shop", all_of(steps[cloth[0]].when, is_("home", "no")))


def _heat(steps: Steps) -> Iterator[Break]:
    heats, presses = _effects(steps, Does.HEAT), _effects(steps, Does.PRESS, Does.TACK)
    pressed = _effects(steps, Does.PRESS)
    yield from _unmended(steps, _effects(steps, Does.WET), heats, pressed, "{} heats where water of {} stands")
    for i, k, effect in heats:
        none = [not_(steps[one[0]].when) for one in presses if one[:2] < (i, k) and one[2].reaches(effect)]
        yield Break(f"{steps[i].step.id} heats an edge before it was pressed", all_of(steps[i].when, *none))


def _warned(steps: Steps) -> Iterator[Break]:
    weak = any_of(
        is_("condition_chipped", "yes"), is_("glass", "laminated"), is_("temp", "cold"), is_("absorbing", "yes")
    )
    warns = [i for i, one in enumerate(steps) if one.does(Does.WARN_HEAT)]
    for i, one in enumerate(steps):
        if one.does(Does.HEAT, Does.SHRINK):
            none = [not_(steps[k].when) for k in warns if k < i]
            yield Break(f"{one.step.id} without a word on heat", all_of(one.when, weak, *none))


def _lamp(steps: Steps) -> Iterator[Break]:
    shines = is_("brake_light", "shines")
    behind = all_of(is_("brake_light", "before"), not_(is_("lens_clear", "yes")))
    boxes = [one.when for one in steps if one.does(Does.CUT_BOX)]
    back = is_("kind", "back_glass", "hatch", "slider")
    for one in steps:
        if one.does(Does.SLIDE_BEHIND):
            clear = all_of(is_("brake_light", "before"), is_("lens_clear", "yes"))
            yield Break(f"{one.step.id} where the lit lens may be covered", all_of(one.when, not_(clear)))
        if one.does(Does.ADHESIVE):
            none = [not_(box) for box in boxes]
            full = is_("covers", "full")
            yield Break(
                f"{one.step.id} over a brake light", all_of(one.when, back, full, any_of(shines, behind), *none)
            )


def _camera(steps: Steps) -> Iterator[Break]:
    free = [(i, one.when) for i, one in enumerate(steps) if one.does(Does.KEEP_FREE)]
    there = all_of(is_("kind", "windshield"), is_("housing", "yes"))
    for i, one in enumerate(steps):
        if one.does(Does.ADHESIVE):
            none = [not_(when) for k, when in free if k < i]
            yield Break(f"{one.step.id} without the housing kept free", all_of(one.when, there, *none))


def _glass_moves(steps: Steps) -> Iterator[Break]:
    moves = _effects(steps, Does.RAISE, Does.LOWER)
    for wanted, other, asks in ((Does.RAISE, Does.LOWER, Does.TRACE), (Does.LOWER, Does.RAISE, Does.CUT_TOP)):
        for ask in _effects(steps, asks):
            rights = [one for one in moves if one[2].does is wanted and one[:2] < ask[:2]]
            door = is_("kind", "framed_door", "frameless_door")
            yield Break(
                f"{steps[ask[0]].step.id} with the glass never {wanted.value}d",
                all_of(steps[ask[0]].when, door, *(not_(steps[one[0]].when) for one in rights)),
            )
            for wrong in (one for one in moves if one[2].does is other and one[:2] < ask[:2]):
                after = [one for one in rights if one[:2] > wrong[:2]]
                when = all_of(steps[wrong[0]].when, steps[ask[0]].when, *(not_(steps[one[0]].when) for one in after))
                yield Break(f"{steps[ask[0]].step.id} after {steps[wrong[0]].step.id}", when)


def _hatch(steps: Steps) -> Iterator[Break]:
    downs = [one for one in steps if one.does(Does.HATCH_DOWN)]
    for one in downs:
        yield Break(f"{one.step.id} before the car is closed", all_of(one.when, not_(is_("part", "end"))))


def _spindle(steps: Steps) -> Iterator[Break]:
    relieved = [one.when for one in steps if one.does(Does.SPINDLE)]
    wiper = all_of(is_("kind", "back_glass", "hatch", "slider"), is_("wiper", "off", "rusted"), is_("covers", "full"))
    for one in steps:
        if one.does(Does.ADHESIVE):
            yield Break(f"{one.step.id} over a spindle", all_of(one.when, wiper, *(not_(when) for when in relieved)))


def _put_back(steps: Steps) -> Iterator[Break]:
    takes, puts, presses = (_effects(steps, one) for one in (Does.TAKE, Does.PUT, Does.PRESS))
    for take in takes:
        if take[2].on in CAR_THINGS:
            continue  # taken in the car's first run, put back in its last
        backs = [one for one in puts if one[2].on == take[2].on and one[:2] > take[:2]]
        missing = all_of(steps[take[0]].when, *(not_(steps[one[0]].when) for one in backs))
        yield Break(f"{take[2].on} is never put back after {steps[take[0]].step.id}", missing)
    for put in (one for one in puts if one[2].on in EDGE_THINGS):
        for press in (one for one in presses if one[:2] > put[:2]):
            again = [one for one in _between(takes, put, press) if one[2].on == put[2].on]
            both = all_of(steps[put[0]].when, steps[press[0]].when, *(not_(steps[one[0]].when) for one in again))
            yield Break(f"{put[2].on} is back before {steps[press[0]].step.id}", both)


CAR_THINGS = frozenset({"headrests", "child_seats", "belongings", "mirrors_folded", "charger"})
"""What is taken apart for the whole car, not for a window."""


def _residue(steps: Steps) -> Iterator[Break]:
    coats, washes, looks = (_effects(steps, one) for one in (Does.DRY_COAT, Does.WASH_OUTSIDE, Does.LOOK))
    for coat in coats:
        for look in (one for one in looks if one[:2] > coat[:2]):
            none = [not_(steps[one[0]].when) for one in _between(washes, coat, look)]
            yield Break("dryer-sheet residue at the look", all_of(steps[coat[0]].when, steps[look[0]].when, *none))


RULES: tuple[Rule, ...] = (
    Rule("razor", "No razor on laminated, coated, defroster or antenna; none where nobody looked.", "3, 13", _razor),
    Rule("solvent", "No solvent in the sun.", "13", _solvent),
    Rule("unfit glass", "No film on plastic or faulty glass; rough glass through a rag.", "3", _unfit),
    Rule("rinse", "No adhesive meets glass that was not rinsed since it was last touched or moved.", "10", _rinsed),
    Rule("cloth", "No cloth on the face after the last squeegee; at the shop none at all.", "10, 17", _cloth),
    Rule("heat", "Inside no heat where water stands; an edge is heated after its own tack or press.", "11, 12", _heat),
    Rule("heat warned", "Heat is warned on chipped, laminated, cold glass and with absorbing film.", "8", _warned),
    Rule("brake light", "A lamp that shines through gets its box; film slides behind only a clear lens.", "17", _lamp),
    Rule("camera", "Camera and sensor stay free.", "9", _camera),
    Rule("glass up and down", "Fully up before tracing, down before the top cut.", "6, 16", _glass_moves),
    Rule("hatch", "A hatch filmed today stays open until the last window is closed.", "4, 14", _hatch),
    Rule("spindle", "A wiper's spindle is relieved.", "5, 10", _spindle),
    Rule("put back", "Everything taken apart has its put-back step, after its edge is pressed.", "10", _put_back),
    Rule("residue", "Dryer-sheet residue is washed off before the look.", "12", _residue),
)
"""Every hard rule."""
