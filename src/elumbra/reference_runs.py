"""All runs of the bay as one readable page, made from the step file."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from elumbra.core.bay import FIGURES, PHASE_WORDS, RULES, Hands, Run, StepBook, blank_situation, make_run

_TEMPERED = {"glass": "tempered"}
_BACK = {"kind": "back_glass", "defroster": "yes", "edge": "border", "how": "card", **_TEMPERED}
_DOOR = {"kind": "framed_door", "how": "snap", **_TEMPERED}
_STRIP = {"part": "strip", "kind": "framed_door", **_TEMPERED}

RUNS: Mapping[str, Mapping[str, str]] = {
    "Before the windows": {"part": "start"},
    "Framed roll-up door": _DOOR,
    "Framed roll-up door with a rain guard, worn seals and a leather panel": {
        **_DOOR, "rain_guard": "yes", "side_seals": "worn", "panel": "leather",
    },
    "Framed roll-up door, weather strip out": {**_DOOR, "weather_strip": "easy"},
    "Framed roll-up door, roll turned sideways": {**_DOOR, "method": "bulk_sideways"},
    "Framed roll-up door, pen and board": {**_DOOR, "method": "pen"},
    "Framed roll-up door, trimmed in place": {**_DOOR, "method": "trim"},
    "Framed roll-up door, plotter pattern": {**_DOOR, "method": "plotter"},
    "Framed roll-up door, ready-cut kit": {**_DOOR, "method": "kit"},
    "Framed roll-up door at home, without heat": {
        **_DOOR, "method": "home_sheet", "home": "yes", "how": "nothing", "s_cloth": "low_lint", "s_liner": "tabs",
        "s_top_heat": "never", "s_top_edge": "gap", "s_prep": "pad",
    },
    "Frameless door": {"kind": "frameless_door", "how": "card", **_TEMPERED},
    "Small fixed quarter": {"kind": "quarter", "edge": "gasket", "antenna": "no", **_TEMPERED},
    "Sliding part of a rear slider": {"kind": "slider", "slider_part": "slides", "antenna": "no", "defroster": "no",
                                      **_TEMPERED},
    "Fixed part of a rear slider": {"kind": "slider", "slider_part": "fixed", **_TEMPERED},
    "Back glass, shrunk dry": {**_BACK, "water": "dry", "brake_light": "shines"},
    "Back glass, shrunk wet, film behind the lamp": {
        **_BACK, "water": "wet", "brake_light": "before", "lens_clear": "yes",
    },
    "Back glass in strips": {**_BACK, "in_strips": "yes"},
    "Hatch, wiper off": {**_BACK, "kind": "hatch", "wiper": "off", "automatic_hatch": "yes"},
    "Hatch, cut round a rusted wiper, with spoiler": {**_BACK, "kind": "hatch", "wiper": "rusted", "spoiler": "yes"},
    "Hatch without wiper": {**_BACK, "kind": "hatch", "wiper": "none"},
    "Windshield, whole, carried": {"kind": "windshield", "glass": "laminated", "how": "card", "housing": "yes"},
    "Windshield, whole, reverse roll": {
        "kind": "windshield", "glass": "laminated", "how": "card", "s_windshield": "reverse_roll",
    },
    "Sun strip, one piece": {"kind": "windshield", "glass": "laminated", "covers": "strip", "housing": "no"},
    "Sun strip, two pieces": {
        "kind": "windshield", "glass": "laminated", "covers": "strip", "housing": "yes", "pieces": "two",
    },
    "Fixed side or cargo glass": {"kind": "fixed_side", "edge": "border", "antenna": "no", **_TEMPERED},
    "Sunroof": {"kind": "sunroof", "glass": "laminated"},
    "Plain rubber truck glass, gasket pulls out": {
        "kind": "back_glass", "edge": "gasket", "gasket_pulls": "yes", **_TEMPERED,
    },
    "Off-road side-by-side": {
        "kind": "fixed_side", "machine": "side_by_side", "edge": "gasket", "gasket_pulls": "yes", **_TEMPERED,
    },
    "Old film by heat": {**_STRIP, "way": "heat", "glue_by": "razor"},
    "Old film by bag and sun, back glass": {
        **_STRIP, "kind": "back_glass", "way": "bag", "defroster": "yes", "sun": "yes",
    },
    "Old film by steam, back glass": {**_STRIP, "kind": "back_glass", "way": "steam", "defroster": "yes"},
    "Old film by soaking overnight, the glued layer stayed": {**_STRIP, "way": "soak", "came_off": "face_only"},
    "Close the car": {"part": "end", "hatch_filmed": "yes", "to_move_headrests": "yes"},
}  # fmt: skip
"""Situations that the page shows: what differs from a window of which nothing is said."""


def run_of(book: StepBook, told: Mapping[str, str]) -> Run:
    """A run of the page, with figures at their longest."""
    situation = {**blank_situation(book, Hands()), **told}
    return make_run(book, situation, {name: one.longest for name, one in FIGURES.items()})


def runs_page(book: StepBook) -> str:
    """The page."""
    return "\n".join(_lines(book)) + "\n"


def _lines(book: StepBook) -> Iterator[str]:
    yield "# The runs of the bay\n"
    yield f"Made from `src/elumbra/data/steps.json`, version {book.version}, by `./elumbra docs`."
    yield (
        "Figures stand at their longest here; on a car they are that window's own. "
        "How to change a step: [changing a step](../guide/changing-a-step.md).\n"
    )
    yield f"{len(book.steps)} steps, {len(book.sequence)} places, {len(book.known)} facts.\n"
    yield "## Hard rules\n\nEach is proven for every combination of facts at once (`tests/core/test_bay_rules.py`).\n"
    yield "| rule | | handbook |\n| --- | --- | --- |"
    yield from (f"| {rule.name} | {rule.sentence} | {rule.section} |" for rule in RULES)
    yield "\n## Schools\n\nSettings of shop or person; ours stands first.\n"
    yield "| question | ours | at home | others | handbook |\n| --- | --- | --- | --- | --- |"
    for one in book.schools.values():
        others = "; ".join(words for name, words in one.options.items() if name != one.ours)
        yield f"| {one.question} | {one.options[one.ours]} | {one.options[one.home]} | {others} | {one.section} |"
    yield "\n## When something goes wrong\n"
    yield "| what | spoilt as a rule | twin | a sound piece | handbook |\n| --- | --- | --- | --- | --- |"
    for wrong in book.wrongs.values():
        steps = "; ".join(step.say for step in (*wrong.always, *wrong.steps))
        spoilt, twin = ("yes" if one else "no" for one in (wrong.spoils, wrong.twin))
        yield f"| {wrong.words} | {spoilt} | {twin} | {steps} | {wrong.section} |"
    for title, told in RUNS.items():
        yield from _run_lines(book, title, told)


def _run_lines(book: StepBook, title: str, told: Mapping[str, str]) -> Iterator[str]:
    run = run_of(book, told)
    yield f"\n## {title}\n"
    for block in run.blocks:
        minutes = sum(step.minutes for step in block.steps)
        again = f", {block.repeat}." if block.repeat > 1 else ""
        yield f"**{PHASE_WORDS[block.phase]}{again}** ({minutes:.1f} min)\n"
        for number, step in enumerate(block.steps, start=1):
            wait = f" *Then {step.wait:.0f} min unattended.*" if step.wait else ""
            caution = f" **Caution:** {step.step.caution}" if step.step.caution else ""
            yield f"{number}. {step.say}.{wait}{caution} <small>{step.why} ({step.step.section})</small>"
        yield ""
