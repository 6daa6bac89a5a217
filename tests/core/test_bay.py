"""The bay: this window's own figures, where the work stands whatever the order of events, times, the day."""

from __future__ import annotations

from dataclasses import replace
from random import Random
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.bay import (
    END,
    START,
    Day,
    DayError,
    Event,
    Hands,
    Happened,
    Progress,
    Removal,
    SunSide,
    ToDo,
    answer_of,
    arranged,
    car_runs,
    cure_days,
    found_facts,
    make_run,
    order_round,
    progress_of,
    soap_ml,
    soap_words,
    strip_key,
    times_of,
    usual,
    window_told,
)
from elumbra.core.cut import CutMethod
from elumbra.core.glass import GlassType, Position, Side, WindowKind
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS
from elumbra.core.units import format_inches
from elumbra.core.work import Car, Window
from tests.catalogue.panes import starting
from tests.catalogue.run_judge import judge
from tests.catalogue.steps import BOOK, LONGEST, keys, run_of, situation
from tests.core.test_heat import back, car, taped

FAIR = Day(glass_c=21, shop_c=20, humidity=0.4, outside_low_c=14)


def door(**given: Any) -> Window:
    defaults: dict[str, Any] = {
        "id": "df", "label": "Driver front", "kind": WindowKind.FRAMED_DOOR, "position": Position.FRONT_SIDE,
        "side": Side.DRIVER, "film_id": "good", "glass_type": GlassType.TEMPERED, "bare_vlt_percent": 75.0,
        "measures": taped("40/15"),
    }  # fmt: skip
    return Window(**{**defaults, **given})


def told(looked: Car, window_id: str, *, day: Day = FAIR, removal: Removal | None = None, **hands: Any) -> Any:
    return window_told(BOOK, looked, window_id, day, Hands(**hands), removal=removal)


# ---- this window's own figures


def test_the_glass_goes_further_down_under_a_deep_rain_guard() -> None:
    for depth, wanted in (("0", "2 in"), ("1", "2 in"), ("2", "3 in"), ("2 1/2", "3 1/2 in")):
        found = told(car(door(findings={"rain_guard": depth})), "df")
        run = make_run(BOOK, found.situation, found.figures)
        assert next(one.say for one in run.steps if one.key == "lower_top") == f"Lower the glass {wanted}"


def test_the_cut_line_goes_further_onto_the_border_at_the_foot_where_the_trim_sits_close() -> None:
    looked = car(back("40/15", findings={"edge": "border", "room_behind_border": "close", "border_bottom": "13/16"}))
    found = told(looked, "bk")
    run = make_run(BOOK, found.situation, found.figures)
    said = [one.say for one in run.steps if one.key == "final_close"]
    assert said == ["Cut 1/4 in onto the border, 9/16 in at the foot"]
    metric = told(looked, "bk", metric=True)
    assert (metric.figures["border"], metric.figures["border_foot"]) == ("6.4 mm", "14 mm")


def test_a_window_is_told_by_what_was_surveyed_cut_and_shrunk() -> None:
    looked = car(
        back("70/25", findings={"defroster": "yes", "brake_light": "shines", "brake_light_width": "10 1/2",
                                "brake_light_height": "1 1/2", "condition": ("chipped",), "spoiler": "2"}),
        door(cut_method=CutMethod.PEN, findings={"side_seals": "worn", "wiper": "off"}),
    )  # fmt: skip
    found = told(looked, "bk")
    facts = found.situation
    assert (facts["how"], facts["water"], facts["defroster"], facts["condition_chipped"]) == (
        "card",
        "dry",
        "yes",
        "yes",
    )
    assert (facts["spoiler"], facts["brake_light"]) == ("yes", "shines")
    assert found.figures["lamp"] == "10 1/2 × 1 1/2 in"
    assert found.figures["heat_why"] == "chipped, maker’s mark not read"
    assert found.figures["shrink"].endswith(")")
    other = told(looked, "df").situation
    assert (other["method"], other["side_seals"], other["wiper"]) == ("pen", "worn", "unsaid"), "a door has no wiper"


def test_what_cannot_be_measured_is_shrunk_with_care_and_breaks_nothing() -> None:
    looked = car(replace(back("40/15"), measures=replace(taped("40/15"), readings={})), door())
    found = told(looked, "bk")
    assert (found.situation["how"], found.figures["shrink"]) == ("card", "not worked out")
    assert make_run(BOOK, found.situation, found.figures).steps
    assert told(looked, "df").situation["kind"] == "framed_door"


def test_findings_become_facts_as_their_table_declares_them() -> None:
    found = found_facts({"condition": ("chipped", "pitted"), "rain_guard": "0", "wiper": "off"}, WINDOW_FINDINGS)
    assert found == {"condition_chipped": "yes", "condition_pitted": "yes", "rain_guard": "no", "wiper": "off"}
    assert found_facts({"old_film_years": "9", "nothing": "x"}, WINDOW_FINDINGS) == {"old_film_years": "yes"}
    assert found_facts({"wishes": "quick"}, CAR_FINDINGS) == {}


def test_a_step_is_special_where_this_cars_findings_bring_it() -> None:
    plain = {one.key for one in run_of(kind="framed_door").steps if one.special}
    assert plain == set()
    special = {one.key for one in run_of(kind="framed_door", side_seals="worn", rain_guard="yes").steps if one.special}
    assert special == {"seals_taped", "door_park_low", "seal_tape_off"}


# ---- the day


# heart, section 0: 1 ml a litre at 20 °C, half under 10, double over 30; between them straight.
@pytest.mark.parametrize(
    ("celsius", "dose"), [(-5, 0.5), (9.9, 0.5), (10, 0.5), (15, 0.75), (20, 1.0), (25, 1.5), (30, 2.0), (40, 2.0)]
)
def test_the_dose_follows_the_temperature(celsius: float, dose: float) -> None:
    assert soap_ml(celsius, humid=False, starting=starting()) == pytest.approx(dose)
    assert soap_ml(celsius, humid=True, starting=starting()) == pytest.approx(1.25 * dose)


def test_the_dose_is_told_in_this_shops_pumps_or_drops() -> None:
    # Handbook, section 3: eight strokes of the pump in a tank of about 3 gal, nine or ten to clean.
    assert soap_words(1.0, "strokes", starting=starting()) == "8 strokes (1.0 ml/l)"
    assert soap_words(1.2, "strokes", starting=starting()) == "10 strokes (1.2 ml/l)"
    assert soap_words(1.0, "drops", starting=starting()) == "10 drops (1.0 ml/l)"
    assert soap_words(1.0, "ml", starting=starting()) == "11 ml (1.0 ml/l)"
    own = starting().with_shop_values({"soap_stroke_ml": 2.85})
    assert soap_words(1.0, "strokes", starting=own) == "4 strokes (1.0 ml/l)"


@pytest.mark.parametrize(
    ("day", "stop", "temp"),
    [
        (Day(glass_c=4.3, shop_c=20), "Too cold: 40 °F (4 °C) at the glass", "cold"),
        (Day(glass_c=20, shop_c=4.3), "Too cold: 40 °F (4 °C) at the shop", "cold"),
        (Day(glass_c=4.5, shop_c=20), "", "cold"),
        (Day(glass_c=9.9, shop_c=20), "", "cold"),
        (Day(glass_c=20, shop_c=20), "", "fair"),
        (Day(glass_c=33, shop_c=25), "", "hot"),
        (Day(glass_c=36.6, shop_c=25), "", "hot"),
        (Day(glass_c=36.8, shop_c=25), "Too hot: 98 °F (37 °C) at the glass", "hot"),
        (Day(outside_low_c=-10), "", "fair"),
    ],
)
def test_it_stops_outside_the_limits_at_the_glass_or_in_the_shop(day: Day, stop: str, temp: str) -> None:
    found = answer_of(day, cold_school="stop", starting=starting())
    assert found.temp == temp
    assert found.stop.startswith(stop)
    assert bool(found.stop) == bool(stop)


def test_a_shop_that_works_near_freezing_has_chosen_to() -> None:
    day = Day(glass_c=2, shop_c=3)
    assert answer_of(day, cold_school="stop", starting=starting()).stop
    assert not answer_of(day, cold_school="more_heat", starting=starting()).stop
    assert answer_of(Day(glass_c=-1, shop_c=3), cold_school="more_heat", starting=starting()).stop


def test_the_forecast_drives_the_cure_and_not_knowing_it_never_shortens_it() -> None:
    assert cure_days(Day(outside_low_c=15), starting=starting()) == 3
    assert cure_days(Day(outside_low_c=2), starting=starting()) == 5
    assert cure_days(Day(), starting=starting()) == 5
    frost = answer_of(Day(glass_c=20, shop_c=20, outside_low_c=-3), cold_school="stop", starting=starting())
    assert any("Frost" in one for one in frost.told)
    for bad in ({"glass_c": -80}, {"shop_c": 200}, {"humidity": 1.2}):
        with pytest.raises(DayError):
            Day(**bad)


# ---- where the work stands


def tick(name: str, at: float, steps: list[str], **over: Any) -> Event:
    value = {"steps": steps, "level": "step", **over.pop("value", {})}
    return Event(name, Happened.TICK, at, over.pop("person_id", "a"), over.pop("person", "Ada"), "df", value)


def event(name: str, kind: Happened, at: float, **value: Any) -> Event:
    return Event(name, kind, at, "a", "Ada", "df", value)


RUN = run_of(kind="framed_door", how="snap")
NAMES = keys(RUN)


def stand(events: list[Event], **over: Any) -> Progress:
    return progress_of(BOOK, over.pop("run", RUN), events, figures=LONGEST, **over)


@given(st.data())
def test_events_in_any_order_once_or_twice_add_up_to_the_same(data: st.DataObject) -> None:
    chance = Random(data.draw(st.integers(0, 10**6)))
    events = [tick(f"t{i}", 100.0 + i, [name], person=chance.choice(["Ada", "Ben"])) for i, name in enumerate(NAMES)]
    events += [event(f"u{i}", Happened.UNDO, 300.0 + i, event=f"t{chance.randrange(len(NAMES))}") for i in range(3)]
    events += [event("w1aaaaaaaaaaaa", Happened.WRONG, 130.5, what="torn", step=NAMES[20], spoilt=True)]
    events += [event("p1", Happened.PAUSE, 131), event("r1", Happened.RESUME, 140)]
    once = stand(events)
    mixed = [*events, *chance.sample(events, 5)]
    chance.shuffle(mixed)
    unique = list({one.id: one for one in mixed}.values())
    again = stand(unique)
    assert again.ticks == once.ticks
    assert keys(again.run) == keys(once.run)
    assert again.paused == once.paused
    assert again.next == once.next


def test_a_step_taken_twice_is_settled_and_nobody_is_lost() -> None:
    found = stand([tick("t2", 20, NAMES[:2], person="Ben"), tick("t1", 10, NAMES[:1], person="Ada")])
    assert found.ticks[NAMES[0]].person == "Ada"
    assert found.ticks[NAMES[0]].also == ("Ben",)
    assert found.ticks[NAMES[1]].person == "Ben"
    assert found.next is not None
    assert found.next.key == NAMES[2]
    undone = stand([tick("t1", 10, NAMES[:1]), event("u", Happened.UNDO, 11, event="t1")])
    assert undone.next is not None
    assert undone.next.key == NAMES[0]


def test_pausing_stops_at_the_exact_step_and_a_tick_goes_on() -> None:
    found = stand([tick("t", 1, NAMES[:5]), event("p", Happened.PAUSE, 2)])
    assert (found.paused, found.paused_by) == (True, "Ada")
    assert found.next is not None
    assert found.next.key == NAMES[5]
    assert not stand([event("p", Happened.PAUSE, 2), event("r", Happened.RESUME, 3)]).paused
    assert not stand([event("p", Happened.PAUSE, 2), tick("t", 4, NAMES[:1])]).paused


def test_another_film_than_the_one_that_was_fitted_is_fitted_anew() -> None:
    events = [tick(f"t{i}", i, [name], value={"film": "old"}) for i, name in enumerate(NAMES)]
    assert stand(events, film="old").done
    changed = stand(events, film="new")
    assert not changed.done
    assert changed.dropped > 0
    assert changed.next is not None
    assert changed.next.phase == "cut", "what was done to the glass stays done"


def test_ticks_of_steps_that_are_gone_are_kept_quietly() -> None:
    found = stand([tick("t", 1, ["no_such_step", NAMES[0], "x" * 120])])
    assert list(found.ticks) == [NAMES[0]]


@pytest.mark.parametrize("what", sorted(BOOK.wrongs))
def test_something_going_wrong_at_any_step_puts_in_what_must_be_done_again(what: str) -> None:
    told_of = situation(kind="framed_door", how="snap", weather_strip="easy")
    run = run_of(kind="framed_door", how="snap", weather_strip="easy")
    for i, step in enumerate(run.steps):
        events = [tick(f"t{k}", k, [one.key]) for k, one in enumerate(run.steps[:i])]
        events.append(event("w1aaaaaaaaaaaa", Happened.WRONG, 500, what=what, step=step.key, spoilt=True))
        found = progress_of(BOOK, run, events, figures=LONGEST)
        assert judge(found.run, told_of) == []
        assert found.next is not None
        assert found.next.again
        assert {one.key for one in run.steps} <= set(keys(found.run)), "nothing that was to be done is lost"
        assert all(key in found.ticks for key in keys(run)[:i])
    spoilt = keys(found.run)
    assert "cut_first_side~w1aaaaaaaaaa" in spoilt
    assert spoilt.index("strip_out~w1aaaaaaaaaa") < spoilt.index("door_foot_open~w1aaaaaaaaaa")


def test_the_twin_of_a_double_cut_gets_the_same_correction_until_it_is_found_sound() -> None:
    run = run_of(kind="framed_door", paired="yes")
    wrong = Event("w9bbbbbbbbbbbb", Happened.WRONG, 50, "a", "Ada", "pf", {"what": "short", "spoilt": True})
    found = stand([], run=run, twins=[wrong])
    put_in = [one for one in found.run.steps if one.again]
    assert put_in[0].key == "fix_look_twin~w9bbbbbbbbbb"
    assert len(put_in) >= 2
    fine = event("f", Happened.FINE, 60, event="w9bbbbbbbbbbbb")
    assert not any(one.again for one in stand([fine], run=run, twins=[wrong]).run.steps)
    creased = replace(wrong, value={"what": "creased", "spoilt": True})
    assert not any(one.again for one in stand([], run=run, twins=[creased]).run.steps), "no fault of the cut"


def test_a_drying_step_waits_until_its_time_has_passed() -> None:
    dry = run_of(kind="back_glass", how="card", water="dry")
    names = keys(dry)
    upto = names.index("sheet_dry") + 1
    waiting = stand([tick("t", 1000, names[:upto])], run=dry)
    assert waiting.waits_until(1000 + 60) == 1000 + 360
    assert waiting.waiting_for is not None
    assert waiting.waiting_for.key == "sheet_dry"
    assert waiting.waits_until(1000 + 361) is None


# ---- round the car


def todo(name: str, kind: WindowKind = WindowKind.FRAMED_DOOR, side: Side = Side.DRIVER, run: Any = RUN) -> ToDo:
    return ToDo(name, name, kind, side, run)


def test_the_order_round_the_car_has_its_reasons() -> None:
    windows = [
        todo("df"), todo("dq", WindowKind.QUARTER), todo("bk", WindowKind.HATCH), todo("pf", side=Side.PASSENGER),
        todo("ws", WindowKind.WINDSHIELD, Side.CENTRE),
    ]  # fmt: skip
    fair = order_round(windows, sun=SunSide.DRIVER, hot=False)
    assert [one.id for one in fair] == ["bk", "dq", "df", "pf", "ws"]
    assert "stays up" in fair[0].why
    hot = order_round(windows, sun=SunSide.DRIVER, hot=True)
    assert [one.id for one in hot] == ["bk", "dq", "pf", "ws", "df"]
    assert hot[-1].why == "Sun side last: it is hot"
    own = arranged(hot, ["df", "nobody", "bk", "df"])
    assert [one.id for one in own] == ["df", "bk", "dq", "pf", "ws"]
    assert own[0].why == "Your order"


def test_the_hatch_stays_up_until_the_last_window_unless_the_lead_says_otherwise() -> None:
    looked = car(back("40/15", kind=WindowKind.HATCH), door())
    begun = car_runs(BOOK, looked, [], day=FAIR, hands=Hands())
    assert begun.hatch_held
    assert "hatch_down" in keys(begun.progress[END].run)
    early = Event("h", Happened.HATCH_EARLY, 5, "l", "Lea", None, {"reason": "the bay door must shut"})
    assert not car_runs(BOOK, looked, [early], day=FAIR, hands=Hands()).hatch_held
    every = [
        Event(f"x{name}", Happened.TICK, 9, "a", "Ada", name, {"steps": keys(one.run), "film": "good"})
        for name, one in begun.progress.items() if name not in (START, END)
    ]  # fmt: skip
    done = car_runs(BOOK, looked, every, day=FAIR, hands=Hands())
    assert not done.hatch_held
    assert done.open_windows == ()
    assert not car_runs(BOOK, car(door()), [], day=FAIR, hands=Hands()).hatch_held, "no hatch"


def test_the_box_is_empty_only_when_everything_is_back() -> None:
    looked = car(door(findings={"weather_strip": "easy", "latch": "hand"}))
    runs = car_runs(BOOK, looked, [], day=FAIR, hands=Hands())
    names = keys(runs.progress["df"].run)
    first = Event("t1", Happened.TICK, 1, "a", "Ada", "df", {"steps": names[: names.index("strip_out") + 1]})
    start = Event("t0", Happened.TICK, 0, "a", "Ada", None, {"steps": ["seats_forward"], "run": START})
    apart = car_runs(BOOK, looked, [first, start], day=FAIR, hands=Hands()).apart
    assert apart == ((START, "mirrors_folded"), ("df", "latch"), ("df", "weather_strip"))
    rest = Event("t2", Happened.TICK, 2, "a", "Ada", "df", {"steps": names})
    end = Event("t3", Happened.TICK, 3, "a", "Ada", None, {"steps": ["mirrors_back"], "run": END})
    assert car_runs(BOOK, looked, [first, start, rest, end], day=FAIR, hands=Hands()).apart == ()


def test_old_film_has_a_run_of_its_own_beside_the_films() -> None:
    looked = car(door(old_film=True, findings={"antenna": "no"}))
    removal = {"df": Removal(way="heat", glue_by="razor", price=40, acknowledged=True)}
    runs = car_runs(BOOK, looked, [], day=FAIR, hands=Hands(), removals=removal)
    own = runs.progress[strip_key("df")].run
    assert "so_heat_peel" in keys(own)
    bag = {"df": replace(removal["df"], way="bag")}
    run = car_runs(BOOK, looked, [], day=FAIR, hands=Hands(), removals=bag).progress[strip_key("df")].run
    pane = looked.panes["df"].outline
    assert pane is not None
    size = next(one.say for one in run.steps if one.key == "so_bag_shape")
    assert size.startswith(
        f"Black plastic {format_inches(pane.width + 101.6)} × {format_inches(pane.height + 101.6)} in"
    )
    assert own.steps[0].say == "Risk and price are signed: risk and price, 40 $"
    ticked = Event("s", Happened.TICK, 1, "a", "Ada", "df", {"steps": ["so_ack"], "run": "strip"})
    runs = car_runs(BOOK, looked, [ticked], day=FAIR, hands=Hands(), removals=removal)
    assert list(runs.progress[strip_key("df")].ticks) == ["so_ack"]
    assert not runs.progress["df"].ticks


# ---- times


def test_times_come_from_ticks_with_pauses_and_waiting_left_out() -> None:
    dry = run_of(kind="back_glass", how="card", water="dry")
    names = keys(dry)
    coat, wait = names.index("sheet_coat"), names.index("sheet_dry")
    events = [
        event("b", Happened.BEGIN, 0),
        tick("t1", 120, names[:coat], value={"level": "phase"}),  # two minutes
        event("p", Happened.PAUSE, 180),
        event("r", Happened.RESUME, 600),
        tick("t2", 660, [names[coat]]),  # one minute since the resume
        tick("t3", 690, [names[wait]]),  # half a minute, then six minutes dry by themselves
        tick("t4", 690 + 360 + 90, [names[wait + 1]]),  # a minute and a half
        tick("t5", 2000, [names[wait + 2]], value={"level": "already"}),
    ]
    progress = stand(events, run=dry)
    found = {one.event_id: one for one in times_of({"df": progress}, events)}
    assert {name: one.minutes for name, one in found.items()} == {"t1": 2.0, "t2": 1.0, "t3": 0.5, "t4": 1.5}
    assert found["t1"].what == "phase:protect"
    assert found["t2"].what == "step:sheet_coat"
    corrected = [*events, event("c", Happened.TIME, 3000, event="t1", minutes=7.5)]
    assert times_of({"df": progress}, corrected)[0].minutes == 7.5


def test_what_was_not_ticked_is_unknown_and_a_night_between_is_no_work() -> None:
    events = [tick("t1", 100, NAMES[:1]), tick("t2", 100 + 9 * 3600, NAMES[1:2])]
    assert times_of({"df": stand(events)}, events) == [], "no begin, and nobody works nine hours on a step"
    undone = [event("b", Happened.BEGIN, 0), tick("t1", 60, NAMES[:1]), event("u", Happened.UNDO, 61, event="t1")]
    assert times_of({"df": stand(undone)}, undone) == []


def test_own_medians_replace_customary_times_from_five_on() -> None:
    mine = [("a", 5.0), ("a", 7.0), ("a", 6.0), ("a", 30.0)]
    assert usual(9.0, mine, person_id="a", enough=5).own == 0
    assert usual(9.0, [*mine, ("a", 6.5)], person_id="a", enough=5).minutes == 6.5
    shop = usual(9.0, [*mine, ("b", 4.0)], person_id="b", enough=5)
    assert (shop.minutes, shop.own) == (6.0, 5), "too few of one's own: the shop's"
