"""Flaws with what a run recorded, written down by hand: the first cause, and what becomes of it.

One line is one situation as somebody in the trade would judge it (handbook, sections 5 to 12): what is seen, the
facts on record (``+`` holds, ``-`` does not), which cause comes first, where and how large it is, and the decision
by our standard.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from elumbra.core.inspection import FlawBook, Told, parse_flaw_book

DATA = json.loads((Path(__file__).parents[2] / "src/elumbra/data/flaws.json").read_text(encoding="utf-8"))
BOOK: FlawBook = parse_flaw_book(DATA)


@dataclass(frozen=True)
class FlawCase:
    """One line of the table."""

    kind: str
    facts: dict[str, Told]
    first: str
    state: str
    zone: str
    size_mm: float | None
    count: int
    decision: str

    @property
    def id(self) -> str:
        told = ",".join(f"{'+' if one is Told.YES else '-'}{name}" for name, one in self.facts.items())
        return f"{self.kind}[{told}]{self.state}.{self.zone}.{self.size_mm}x{self.count}"


def _case(line: str) -> FlawCase:
    kind, facts, first, state, zone, size, count, decision = (part.strip() for part in line.split("|"))
    told = {one[1:]: Told.YES if one[0] == "+" else Told.NO for one in facts.split()}
    return FlawCase(
        kind, told, first, state, zone, None if size == "?" else float(size), int(count or 1), decision
    )  # fmt: skip


TABLE = tuple(
    _case(line)
    for line in """
finger | -shrunk +at_foot | not_shrunk | wet | edge | 8 | | touch_up
finger | +shrunk -pressed_again -sides_pressed | not_pressed | wet | edge | 8 | | touch_up
finger | +much_to_shrink +at_foot | not_shrunk | set | edge | 10 | | touch_up
finger | +near_limit +at_corner | not_shrunk | set | edge | 10 | | touch_up
finger | +shrunk +pressed_again +sides_pressed +cold | cold_tack | set | hidden | 4 | | keep
finger | -much_to_shrink +shrunk -sides_pressed +paused_wet | not_pressed | set | edge | 6 | | touch_up
water_pocket | -pressed_again | water_left | wet | view | 12 | | touch_up
water_pocket | +pressed_again +fresh | drying | set | edge | 5 | | keep
water_pocket | +door_shut_wet -pressed_again | water_left | wet | edge | 20 | | touch_up
water_pocket | +pressed_again -fresh +grabbed | trapped_air | set | view | 8 | | touch_up
water_pocket | -pressed_again -sides_pressed +cold +paused_wet | not_pressed | wet | view | 9 | | touch_up
haze | +fresh | drying | wet | view | 300 | | keep
haze | +fresh +cold | drying | set | view | 300 | | keep
haze | -fresh -pressed_again | water_left | set | view | 200 | | keep
dots | -seals_cleaned +at_side | dirty_seal | wet | edge | 30 | 3 | touch_up
dots | +seals_cleaned +door_shut_wet +at_side | drawn_back | wet | edge | 30 | 3 | touch_up
dots | +seals_poor -seals_taped +at_side | dirty_seal | set | edge | 60 | 4 | touch_up
dots | +seals_cleaned +seals_taped +door_shut_wet +at_foot | drawn_back | wet | edge | 20 | 2 | touch_up
dots | -seals_cleaned +at_side | dirty_seal | wet | edge | 150 | 9 | redo
dots | +at_middle -rinsed | dirt | wet | view | 20 | 3 | touch_up
dots | +old_solution +seals_cleaned +at_middle | old_slip | wet | view | 20 | 3 | touch_up
lint | +towel_at_glass | towel | wet | view | 4 | | touch_up
lint | -towel_at_glass +at_top -fluff_away | headliner | set | view | 6 | | redo
lint | -towel_at_glass +fluff_away +wind +waited | waited_dust | wet | view | 3 | | touch_up
lint | -towel_at_glass +at_foot +touched_panel | panel_dirt | wet | edge | 5 | | touch_up
lint | +towel_at_glass | towel | set | edge | 2 | | keep
lint | +towel_at_glass | towel | set | edge | 9 | | redo
speck | +old_film_was +glue_found | glue_left | set | view | 0.8 | | keep
speck | +old_glue +at_corner | glue_left | set | view | 2 | | redo
speck | +wind +waited | waited_dust | wet | view | 1.5 | | touch_up
speck | -rinsed -seals_cleaned +at_side | dirt | set | edge | 1.2 | | keep
speck | +touched_panel +at_foot -old_film_was | panel_dirt | wet | edge | 3 | | touch_up
speck | +dropped -old_film_was | dirt | wet | view | 2 | | touch_up
speck | +old_solution -old_film_was +rinsed +seals_cleaned | old_slip | set | view | 1 | | keep
speck | | dirt | set | view | ? | | redo
speck | | dirt | wet | view | ? | | touch_up
crease | +retucked +at_foot | kinked_tuck | wet | edge | 40 | | redo
crease | +creased_said +at_middle | kinked_carry | set | view | 60 | | redo
crease | +dropped +at_middle | kinked_carry | wet | view | 50 | | redo
crease | -shrunk +near_limit +at_foot -retucked | pressed_finger | set | edge | 30 | | redo
light_gap | +twin_same | piece_small | set | edge | 3 | | redo
light_gap | +readings_doubted | piece_small | wet | edge | 3 | | touch_up
light_gap | +slid_late -twin_same | shifted | wet | edge | 2 | | touch_up
light_gap | +slid_late -twin_same | shifted | set | edge | 2 | | redo
overhang | +at_top +rain_guard | sits_high | wet | edge | 2 | | touch_up
overhang | +twin_same +at_top | top_long | set | edge | 2 | | touch_up
overhang | +slid_late -twin_same +at_top | sits_high | wet | edge | 1 | | touch_up
peeling | -edges_sealed | not_sealed | set | edge | 10 | | touch_up
peeling | +edges_sealed -corners_rounded +at_corner | sharp_corner | set | edge | 10 | | touch_up
peeling | +edges_sealed +corners_rounded +lowered_early | lowered | set | edge | 15 | | touch_up
peeling | +cold -edges_sealed | not_sealed | wet | edge | 5 | | touch_up
worms | +heat_on_wet | heated_wet | set | view | 100 | | redo
worms | | heated_wet | wet | view | 60 | | redo
scratches | -squeegee_clean -outside_washed | dirty_squeegee | set | view | 80 | | redo
scratches | +squeegee_clean +rubbed -fresh | rubbed | set | view | 80 | | redo
score | +scored_said -blade_new +cut_by_hand | blade_pressure | set | view | 200 | | keep
score | +old_film_was -cut_by_hand | razor_grit | set | view | 90 | | keep
border_line | +cut_inside +spoiler | border_cut | wet | edge | 30 | | touch_up
border_line | -cut_inside +readings_doubted | border_gap | set | edge | 40 | | touch_up
burnt | +burnt_said +near_limit | over_shrunk | wet | view | 30 | | redo
burnt | | over_shrunk | set | edge | 20 | | redo
faded | +lot_repeats | film_lot | set | view | 900 | | redo
faded | -lot_repeats +film_sheet_poor +years | poor_film | set | view | 900 | | redo
liner_mark | +at_corner | liner_nail | set | hidden | 5 | | keep
liner_mark | +at_corner | liner_nail | set | edge | 5 | | touch_up
foot_marks | +at_foot +at_corner | foot_folded | set | hidden | 4 | 2 | keep
foot_marks | +at_foot +retucked | foot_folded | wet | edge | 4 | | touch_up
nick | +at_top +blade_dragged -twin_same | fresh_edge | set | hidden | 2 | | keep
nick | +at_top -nicks_out +twin_same | nick_cut | set | view | 2 | | redo
nick | +at_top | fresh_edge | set | hidden | 6 | | redo
late_bubble | -fresh +grabbed | trapped_air | set | view | 10 | | touch_up
late_bubble | +fresh -pressed_again -mark_pressed | trapped_air | set | view | 10 | | touch_up
""".strip().splitlines()
)
