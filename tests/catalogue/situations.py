"""Whole situations written by hand: window, findings, method, day; which steps must be there, in which order, and not."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Wanted:
    name: str
    told: Mapping[str, str]
    must: tuple[str, ...]
    must_not: tuple[str, ...] = ()


def _w(name: str, told: str, must: str, must_not: str = "") -> Wanted:
    pairs = dict(one.split("=") for one in told.split())
    return Wanted(name, pairs, tuple(must.split()), tuple(must_not.split()))


DOOR = "kind=framed_door "
BACK = "kind=back_glass defroster=yes how=card antenna=no "
HATCH = "kind=hatch defroster=yes how=card antenna=no "

SITUATIONS: tuple[Wanted, ...] = (
    _w("plain door", DOOR + "how=snap",
       "outside_washed glass_up lay_door_below cut_first_side shift_side cut_second_side half_back lower_top "
       "cut_top_stroke cut_top_shave corners_round door_snap seals_flush squeegee_first drop_top flush_again door_rinse "
       "door_peel_two door_front_first door_tack door_raise door_foot_rinse door_peel_rest door_foot_in door_press_down "
       "door_dry look_out",
       "door_peel_whole latch_back strip_out back_rinse sheet_coat trim_place"),
    _w("door, film lies flat", DOOR + "how=nothing", "corners_round door_rinse", "door_snap door_card_each door_fingers"),
    _w("door, each finger by card", DOOR + "how=card press=card where=car",
       "door_off_rubber door_fix_top door_fingers door_card_each door_again", "door_glove_each door_snap door_board"),
    _w("door, shrunk on the board with the glove", DOOR + "how=card press=glove where=board",
       "door_board door_glove_each", "door_card_each door_off_rubber"),
    _w("door with a deep rain guard", DOOR + "rain_guard=yes", "lower_top cut_top_stroke door_park_low"),
    _w("door with worn seals", DOOR + "side_seals=worn", "seals_taped seals_card seal_tape_off", "seals_card_dirty"),
    _w("door with dirty seals", DOOR + "side_seals=dirty", "seals_card_dirty flush_again", "seals_taped seals_card"),
    _w("door, weather strip out", DOOR + "weather_strip=easy",
       "strip_out door_peel_whole door_unroll door_foot_open door_dry strip_back look_out",
       "door_peel_two door_peel_rest door_foot_in strip_out_tight"),
    _w("door, tight weather strip", DOOR + "weather_strip=tight", "strip_out_tight strip_back", "strip_out"),
    _w("leather panel", DOOR + "panel=leather", "cover_panel cover_off", "panel_open"),
    _w("plain panel", DOOR + "panel=plain", "panel_open panel_dry", "cover_panel cover_off"),
    _w("panel that rises", DOOR + "panel=rises", "panel_rises", "cover_panel"),
    _w("cover wanted", DOOR + "panel=plain panel_cover=yes", "cover_panel cover_off", "panel_open"),
    _w("electric latch", DOOR + "latch=electric", "latch_electric latch_back", "latch_hand"),
    _w("cold day, top edge", DOOR + "temp=cold", "warn_heat door_tack door_top_warm door_raise", "door_top_press"),
    _w("fair day, top edge", DOOR + "temp=fair", "door_tack door_top_press door_raise", "door_top_warm warn_heat"),
    _w("brand-new car: pad", DOOR + "age=new antenna=no", "pad_pass", "razor_pass"),
    _w("a few years old: razor", DOOR + "age=few antenna=no", "razor_pass", "pad_pass"),
    _w("new car with a sticker: razor", DOOR + "age=new sticker=yes", "razor_pass sticker_off", "sticker_soak"),
    _w("laminated door", DOOR + "glass=laminated sticker=yes age=old", "pad_pass sticker_soak",
       "razor_pass sticker_off"),
    _w("mark not read", DOOR + "glass=unknown age=old", "pad_pass", "razor_pass"),
    _w("sticker that must stay", DOOR + "sticker=keep", "sticker_keep", "sticker_off sticker_soak"),
    _w("pair cut together", DOOR + "paired=yes", "lay_door_below lay_pair cut_first_side pair_parted"),
    _w("roll sideways", DOOR + "method=bulk_sideways",
       "lay_door_sideways foot_first shift_low cut_rear_side lower_top cut_top_stroke", "cut_first_side half_back"),
    _w("pen and board", DOOR + "method=pen",
       "glass_up lay_door_pen trace_sides fold_foot lower_top mark_top board_cut_pen", "cut_first_side cut_top_stroke"),
    _w("trimmed in place", DOOR + "method=trim",
       "panel_off trim_up trim_score trim_off trim_rinse trim_part_down trim_place trim_tack trim_top_cut trim_close "
       "trim_foot_cut door_press_down panel_back",
       "cover_panel panel_open door_crack door_raise cut_first_side"),
    _w("plotter pattern", DOOR + "method=plotter", "pattern_check pattern_weeded pattern_room door_rinse",
       "glass_up cut_first_side nicks_out kit_sides"),
    _w("ready-cut kit", DOOR + "method=kit", "pattern_check kit_sides pattern_room", "pattern_weeded glass_up"),
    _w("home route", DOOR + "method=home_sheet home=yes s_cloth=low_lint s_liner=tabs s_top_heat=never s_top_edge=gap",
       "home_measured liner_found cut_top_gap cloth_first squeegee_first door_start_tabs door_top_press",
       "door_top_warm cut_top_shave door_start_nail"),
    _w("low-lint cloth at the shop is no cloth", DOOR + "s_cloth=low_lint home=no", "squeegee_first", "cloth_first"),
    Wanted("clean inside first", {"kind": "framed_door", "s_order": "clean_first"},
           ("squeegee_first@before the cut", "flush_again@before the cut", "glass_up", "cut_top_stroke", "door_rinse",
            "door_front_first"), ("squeegee_first", "flush_again")),
    _w("frameless door", "kind=frameless_door how=card",
       "latch_any frameless_enter frameless_settle frameless_tack frameless_foot door_press_down frameless_soak "
       "frameless_heat frameless_foot_heat door_dry latch_back", "door_raise door_front_first door_peel_two"),
    _w("frameless at home", "kind=frameless_door home=yes", "frameless_press_home", "frameless_heat frameless_foot_heat"),
    _w("small quarter in rubber", "kind=quarter edge=gasket antenna=no",
       "lay_fixed cut_fixed_gasket gasket_free rubber_sliver glass_out_thumb fixed_rinse quarter_mist quarter_tight "
       "quarter_mark fixed_press quarter_outside", "cut_fixed_border fixed_spray gasket_out"),
    _w("quarter whose gasket pulls", "kind=quarter edge=gasket gasket_pulls=yes",
       "gasket_out fixed_press gasket_back", "gasket_free rubber_sliver"),
    _w("fixed side with a border", "kind=fixed_side edge=border room_behind_border=free",
       "lay_fixed cut_fixed_border dot_band fixed_place", "cut_fixed_close quarter_tight"),
    _w("fixed side, trim sits close", "kind=fixed_side edge=border room_behind_border=close", "cut_fixed_close",
       "cut_fixed_border"),
    _w("slider that slides", "kind=slider slider_part=slides", "slider_shut lay_fixed fixed_slide_open fixed_rinse"),
    _w("slider that is fixed", "kind=slider slider_part=fixed", "lay_fixed fixed_rinse", "slider_shut fixed_slide_open"),
    _w("sunroof", "kind=sunroof glass=laminated", "blind_back sunroof_place seat_cover_off", "razor_pass fixed_place"),
    _w("back glass, dry", BACK + "water=dry brake_light=shines edge=border",
       "shelf_covered way_in big_lay big_h_first big_rough sheet_coat sheet_dry film_on_coat h_again shrink_quarters "
       "look_inside lamp_box final_border edges_warm_again hang_top_down pad_pass lines_pad back_rinse back_peel_two "
       "back_body_in back_top_first back_box_fits back_cross back_spokes back_foot_last back_again back_dry shelf_dry "
       "outside_clean look_out", "razor_pass slip_under back_behind_lamp hatch_up"),
    _w("back glass, wet", BACK + "water=wet", "slip_under shrink_quarters", "sheet_coat sheet_dry film_on_coat"),
    _w("back glass, lens stays clear", BACK + "brake_light=before lens_clear=yes", "back_behind_lamp",
       "lamp_box back_box_fits"),
    _w("back glass, lens would be covered", BACK + "brake_light=before lens_clear=no", "lamp_box back_box_fits",
       "back_behind_lamp"),
    _w("back glass, lamp not looked at", BACK + "brake_light=seen", "lamp_look", "lamp_box back_behind_lamp"),
    _w("back glass in strips", BACK + "in_strips=yes brake_light=shines",
       "strips_lamp strips_cut strips_overlap lamp_box back_peel_strips", "big_lay shrink_quarters final_border"),
    _w("back glass, steel wool", BACK + "s_lines=wool", "pad_pass wool_lines", "lines_pad razor_pass"),
    _w("back glass, very dark film", BACK + "dark=yes", "edge_tape_dark lamp_dark tape_off"),
    _w("back glass, foot first", BACK + "s_carry=bottom_first", "back_bottom_first", "back_top_first"),
    _w("pitted outside", BACK + "condition_pitted=yes press=card", "rag_ready shrink_card", "shrink_quarters"),
    _w("chipped", BACK + "condition_chipped=yes", "eye_cover warn_heat shrink_quarters"),
    _w("absorbing film", BACK + "absorbing=yes", "warn_heat shrink_quarters"),
    _w("near the film's limit", BACK + "near_limit=yes", "shrink_quarters near_limit past_border"),
    _w("hatch, wiper off", HATCH + "wiper=off automatic_hatch=yes",
       "hatch_up motor_off bumper_towel wiper_off spindle_off hatch_from_out back_spindle_fits wiper_back motor_on "
       "bumper_free", "spindle_rusted shelf_covered back_body_in hatch_down"),
    _w("hatch, cut round a rusted wiper", HATCH + "wiper=rusted", "spindle_rusted back_spindle_fits",
       "wiper_off spindle_off wiper_back"),
    _w("hatch without wiper", HATCH + "wiper=none", "hatch_up", "wiper_off spindle_off spindle_rusted back_spindle_fits"),
    _w("hatch with spoiler, by feel", HATCH + "spoiler=yes s_spoiler=feel", "under_spoiler spoiler_feel",
       "spoiler_mark spoiler_inside back_spoiler_trim"),
    _w("hatch with spoiler, trimmed inside", HATCH + "spoiler=yes s_spoiler=inside", "spoiler_inside back_spoiler_trim",
       "spoiler_feel"),
    _w("windshield carried", "kind=windshield glass=laminated how=card housing=yes",
       "dash_covered camera_free warn_heat ws_housing ws_rinse ws_peel_carry ws_place_carry ws_edges ws_press ws_again "
       "dash_dry", "ws_roll ws_unroll razor_pass"),
    _w("windshield, reverse roll", "kind=windshield glass=laminated how=card s_windshield=reverse_roll",
       "ws_loosen_half ws_loosen_other ws_roll ws_rinse ws_unroll ws_edges ws_press", "ws_peel_carry ws_place_carry"),
    _w("mirror slides off", "kind=windshield glass=laminated mirror_mount=slides", "mirror_off mirror_back",
       "mirror_stays"),
    _w("mirror on an old clip", "kind=windshield glass=laminated mirror_mount=clip", "mirror_stays", "mirror_off"),
    _w("sun strip, one piece", "kind=windshield glass=laminated covers=strip housing=no",
       "sun_mark sun_lay sun_cut sun_rinse sun_clean_across sun_peel sun_place sun_press sun_ruler",
       "sun_two sun_second ws_rinse big_lay corners_round shrink_quarters"),
    _w("sun strip, two pieces", "kind=windshield glass=laminated covers=strip housing=yes pieces=two",
       "camera_free sun_mark sun_housing sun_two sun_rinse sun_place sun_press_housing sun_second sun_second_press "
       "sun_moisture sun_ruler", "sun_clean_across sun_press"),
    _w("plastic", "kind=fixed_side glass=plastic", "", "fixed_place lay_fixed look_out"),
    _w("cracked", DOOR + "condition_cracked=yes", "", "door_front_first glass_up look_out"),
    _w("before the windows", "part=start on_arrival_wet=yes power=weak to_move_headrests=yes wind=yes sun=yes",
       "dry_car shade_car still_air fans_off charger_on headrests_out mix_slip mix_rich", "wash_machine hatch_down"),
    _w("one mix", "part=start s_slip=one_mix", "mix_slip", "mix_rich"),
    _w("side-by-side", "part=start machine=side_by_side", "wash_machine", "wash_car"),
    _w("closing a car with a hatch", "part=end hatch_filmed=yes power=weak", "hatch_down charger_off windows_taped"),
    _w("closing a car without", "part=end hatch_filmed=no", "windows_taped", "hatch_down"),
    _w("old film by bag", "part=strip kind=back_glass way=bag defroster=yes glue_by=pad sun=yes",
       "so_ack so_sun_turn so_bag_shape so_bag_slit so_bag_in so_bag_sun so_bag_peel so_lines_watch so_which "
       "so_glue_pad so_rinse_off so_feel so_result so_meter", "so_glue_razor so_glue_degrease so_heat_peel so_bag_two"),
    _w("old film by heat, door", "part=strip kind=framed_door way=heat glue_by=razor antenna=no",
       "so_heat_corner so_heat_peel so_which so_glue_degrease so_glue_razor so_rinse_off so_meter",
       "so_bag_sun so_steam_set so_under"),
    _w("only the face came off", "part=strip kind=framed_door way=steam came_off=face_only",
       "so_lower_rest so_steam_side so_steam_work so_which so_under", "so_steam_set"),
    _w("solvent in the sun", "part=strip kind=framed_door glue_by=degreaser sun=yes", "so_rinse_off",
       "so_glue_degrease"),
)  # fmt: skip
