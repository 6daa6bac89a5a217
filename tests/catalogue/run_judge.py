"""A judge of runs that shares nothing with the rules of the core: it walks through the steps as hands would.

It keeps what the glass, the film and the car are like, and tells what should never happen.
"""

from __future__ import annotations

from collections.abc import Mapping

from elumbra.core.bay import Run

PARTS = ("top", "sides", "foot", "corners", "middle")
EDGES = {"weather_strip", "gasket", "panel", "seal_tape"}
CAR = {"headrests", "child_seats", "belongings", "mirrors_folded", "charger"}


def _parts(on: str) -> set[str]:
    return set(PARTS) if on in ("all", "") else {on}


def judge(run: Run, told: Mapping[str, str]) -> list[str]:  # noqa: C901  one walk through all that can happen
    """What a run does that it should never do."""
    wrong: list[str] = []
    dirty, rinsed, wet, pressed = set(PARTS), set[str](), set[str](), set[str]()
    cloth = coat = warned = rag = free = boxed = relieved = False
    apart: set[str] = set()
    up: bool | None = None
    unfit = told["glass"] == "plastic" or any(
        told[f"condition_{one}"] == "yes" for one in ("cracked", "scratched", "etched", "frosted", "drilled", "leaded")
    )
    weak = (
        told["condition_chipped"] == "yes" or told["glass"] in ("laminated", "unknown") or told["temp"] == "cold"
        or told["absorbing"] == "yes"
    )  # fmt: skip
    back = told["kind"] in ("back_glass", "hatch", "slider") and told["covers"] == "full"
    door = told["kind"] in ("framed_door", "frameless_door")
    for step in run.steps:
        for effect in step.step.effects:
            on, what = _parts(effect.on), effect.does.value
            if what == "razor":
                if told["glass"] != "tempered" or told["defroster"] == "yes" or told["antenna"] == "yes":
                    wrong.append(f"{step.key}: razor")
            elif what == "touch":
                dirty |= on
            elif what in ("raise", "lower"):
                dirty, up = set(PARTS), what == "raise"
            elif what == "rinse":
                dirty -= on
                rinsed |= on
            elif what == "cloth":
                cloth = True
            elif what == "squeegee":
                cloth = False
            elif what == "wet":
                wet |= on
            elif what == "adhesive":
                if on & dirty or not on <= rinsed:
                    wrong.append(f"{step.key}: not rinsed")
                if cloth and told["home"] == "no":
                    wrong.append(f"{step.key}: cloth after the squeegee")
                if unfit and told["part"] == "window":
                    wrong.append(f"{step.key}: unfit glass")
                if (
                    back
                    and not boxed
                    and (
                        told["brake_light"] == "shines"
                        or (told["brake_light"] == "before" and told["lens_clear"] != "yes")
                    )
                ):
                    wrong.append(f"{step.key}: lamp covered")
                if back and told["wiper"] in ("off", "rusted") and not relieved:
                    wrong.append(f"{step.key}: spindle")
                if told["kind"] == "windshield" and told["housing"] == "yes" and not free:
                    wrong.append(f"{step.key}: camera")
                pressed -= on
            elif what in ("press", "tack"):
                if what == "press":
                    wet -= on
                pressed |= on
                if what == "press" and (back_early := EDGES & apart_done(run, step.key) - apart):
                    wrong.append(f"{step.key}: {back_early} back before it")
            elif what == "heat":
                if on & wet:
                    wrong.append(f"{step.key}: heat on water")
                if not on & pressed:
                    wrong.append(f"{step.key}: heat before press")
            elif what == "dry_coat":
                coat = True
            elif what == "wash_outside":
                coat = False
            elif what == "look" and coat:
                wrong.append(f"{step.key}: residue")
            elif what == "warn_heat":
                warned = True
            elif what == "rag":
                rag = True
            elif what == "keep_free":
                free = True
            elif what == "cut_box":
                boxed = True
            elif what == "spindle":
                relieved = True
            elif what == "slide_behind":
                if told["brake_light"] != "before" or told["lens_clear"] != "yes":
                    wrong.append(f"{step.key}: lens")
            elif what == "trace" and door and up is not True:
                wrong.append(f"{step.key}: traced with the glass down")
            elif what == "cut_top" and door and up is not False:
                wrong.append(f"{step.key}: top cut with the glass up")
            elif what == "take":
                apart.add(effect.on)
            elif what == "put":
                apart.discard(effect.on)
            if what in ("heat", "shrink") and weak and not warned:
                wrong.append(f"{step.key}: heat not warned")
            rough = told["condition_pitted"] == "yes" or told["condition_oversprayed"] == "yes"
            if what == "shrink" and rough and not rag:
                wrong.append(f"{step.key}: no rag")
    if left := apart - CAR:
        wrong.append(f"never put back: {sorted(left)}")
    return wrong


def apart_done(run: Run, until: str) -> set[str]:
    """What has been put back before a step."""
    found: set[str] = set()
    for step in run.steps:
        if step.key == until:
            break
        for effect in step.step.effects:
            if effect.does.value == "put":
                found.add(effect.on)
            elif effect.does.value == "take":
                found.discard(effect.on)
    return found
