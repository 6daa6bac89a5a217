"""The walkaround through the API: findings, the other side, openings, order, photos, old film, two people."""

from __future__ import annotations

import base64
import json
from io import BytesIO
from typing import Any

import pytest
from PIL import Image

from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, ReadBy
from elumbra.documents.cut_sheet import cut_sheet_pdf
from elumbra.documents.job_file import parse_job_file
from elumbra.storage.data_files import law_file, starting_values
from elumbra.tasks import final_plan
from tests.api.conftest import Desk
from tests.api.test_bay import bay, run_of
from tests.api.test_jobs import opened, patch, read, window_of
from tests.api.test_rack_ledger import again
from tests.catalogue.pictures import picture
from tests.documents.test_plan import pdf_text

MORROW = "Morrow SUV, fronts to match"


def found(desk: Desk, label: str, status: int = 200, title: str = MORROW, **findings: Any) -> Any:
    return patch(desk, window_of(opened(desk, title), label), status=status, findings=findings)


def test_a_finding_is_kept_says_what_it_changes_and_is_taken_back(desk: Desk) -> None:
    after = window_of(found(desk, "Driver rear", side_seals="worn", panel="leather"), "Driver rear")
    assert after["findings"] == {"side_seals": "worn", "panel": "leather"}
    told = {one["finding"]: one for one in after["follows"]}
    assert (told["side_seals"]["words"], told["side_seals"]["minutes"]) == ("Tape the sides", 4)
    assert told["panel"]["caution"] == "" or told["panel"]["words"]
    back = window_of(found(desk, "Driver rear", side_seals=None), "Driver rear")
    assert back["findings"] == {"panel": "leather"}


def test_every_finding_of_every_kind_goes_into_the_job_file_and_comes_back(desk: Desk) -> None:
    """Exportable: whatever a window can be asked is in the file, and opening it asks nothing again."""
    job = opened(desk, MORROW)
    for window in job["windows"]:
        answers: dict[str, Any] = {}
        for _ in range(3):  # what is asked under an answer is asked next
            now = window_of(opened(desk, MORROW), window["label"])
            for name in now["findings_asked"]:
                finding = WINDOW_FINDINGS[name]
                options = list(finding.options)
                first = options[-1] if options else "9" if finding.how == "number" else "2 1/2"
                answers[name] = [first] if finding.how == "several" else first
            answers["condition"] = ["sound"]
            patch(desk, now, findings=answers)
    job = opened(desk, MORROW)
    exported = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    again = desk.do("POST", "/jobs/import", data=json.dumps(exported).encode(), status=201)
    for one, other in zip(job["windows"], again["windows"], strict=True):
        assert one["findings"] == other["findings"]
        assert set(one["findings_asked"]) <= set(one["findings"])


def test_what_forbids_film_takes_the_window_out_of_the_cut_with_its_reason(desk: Desk) -> None:
    after = window_of(found(desk, "Driver front", condition=["chipped", "cracked"]), "Driver front")
    assert after["no_film"] == "No film on cracked glass"
    assert after["held"] is not None
    assert "cracked" in after["held"]
    assert window_of(found(desk, "Driver front", condition=["chipped"]), "Driver front")["no_film"] == ""


def test_glass_of_plastic_takes_no_film(desk: Desk) -> None:
    after = window_of(
        patch(desk, window_of(opened(desk, MORROW), "Driver front"), glass_type="plastic"), "Driver front"
    )
    assert after["no_film"] == "Plastic takes no film"


@pytest.mark.parametrize(
    ("findings", "field", "says"),
    [
        ({"side_seal": "worn"}, "findings.side_seal", "side_seals"),
        ({"side_seals": "torn"}, "findings.side_seals", "not one of"),
        ({"rain_guard": "deep"}, "findings.rain_guard", "not a size"),
        ({"condition": "cracked"}, "findings.condition", "list"),
    ],
)
def test_a_finding_that_cannot_be_is_refused_and_nothing_is_half_saved(
    desk: Desk, findings: dict[str, Any], field: str, says: str
) -> None:
    before = window_of(opened(desk, MORROW), "Driver rear")
    refused = found(desk, "Driver rear", status=422, latch="hand", **findings)
    assert says in refused["fields"][field]
    assert window_of(opened(desk, MORROW), "Driver rear") == before


def test_as_the_other_side_takes_every_answer_over_in_one_go(desk: Desk) -> None:
    found(desk, "Driver front", side_seals="dirty", weather_strip="tight", latch="electric")
    job = opened(desk, MORROW)
    passenger = window_of(job, "Passenger front")
    assert passenger["other_side_id"] == window_of(job, "Driver front")["id"]
    assert passenger["suggested"] == {"side_seals": "dirty", "weather_strip": "tight", "latch": "electric"}
    body = {"version": passenger["version"], "other_id": passenger["other_side_id"]}
    after = window_of(desk.do("POST", f"/windows/{passenger['id']}/as-other-side", body), "Passenger front")
    assert after["findings"] == {"side_seals": "dirty", "weather_strip": "tight", "latch": "electric"}
    assert after["suggested"] == {}


def test_as_the_other_side_of_another_car_is_refused(desk: Desk) -> None:
    stranger = window_of(opened(desk), "Driver front")
    own = window_of(opened(desk, MORROW), "Passenger front")
    body = {"version": own["version"], "other_id": stranger["id"]}
    assert "not of this car" in desk.do("POST", f"/windows/{own['id']}/as-other-side", body, status=422)["message"]


def test_the_car_says_what_its_findings_change(desk: Desk) -> None:
    job = opened(desk, MORROW)
    body = {"version": job["version"], "findings": {"on_arrival": ["wet", "dirty"], "order": "open"}}
    after = desk.do("PATCH", f"/jobs/{job['id']}", body)
    assert {one["words"] for one in after["follows"]} == {
        "Dry it before anything else", "Wash it first", "Do not cut before the order is confirmed",
    }  # fmt: skip
    assert sum(one["minutes"] for one in after["follows"]) == 30
    refused = desk.do(
        "PATCH", f"/jobs/{job['id']}", {"version": after["version"], "findings": {"age": "x"}}, status=422
    )
    assert "findings.age" in refused["fields"]


# --- consequences, each where the station that reads it shows it

BUILT = {ReadBy.SURVEY, ReadBy.SHADE, ReadBy.CUT}
NOT_BUILT = {ReadBy.STRIP_OFF, ReadBy.HEAT, ReadBy.BAY}


def test_consequences_are_read_by_stations_that_are_built_or_listed_as_not() -> None:
    """docs/using.md lists those whose station is not built yet: they stand at the finding meanwhile."""
    read_by = {
        what.read_by for one in (*WINDOW_FINDINGS.values(), *CAR_FINDINGS.values()) for what in one.follows.values()
    }
    assert read_by <= BUILT | NOT_BUILT


def test_what_counts_at_the_knife_is_in_the_plan_and_on_its_paper(desk: Desk) -> None:
    found(
        desk, "Hatch glass", brake_light="shines", wiper="rusted", spoiler="2", edge="gasket", defroster="yes",
        defroster_first="3", sticker="keep",
    )  # fmt: skip
    job = opened(desk, MORROW)
    desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "findings": {"order": "open"}})
    exported = desk.call("GET", f"/jobs/{job['id']}/export").data
    plan = final_plan(parse_job_file(exported), law_file(), starting_values(), today="2026-11-25")
    told = {(note.label, note.words) for note in plan.notes}
    hatch = window_of(opened(desk, MORROW), "Hatch glass")
    expected = {("Hatch glass", one["words"]) for one in hatch["follows"] if one["read_by"] == "cut"}
    assert len(expected) == 6
    assert expected | {("Whole car", "Do not cut before the order is confirmed")} <= told
    text = pdf_text(cut_sheet_pdf(plan))
    assert "Found at the survey" in text
    for _, words in expected:
        assert words.split(";")[0] in text


def test_an_antenna_is_told_to_shade_and_a_brake_light_not_looked_at_to_the_survey(desk: Desk) -> None:
    after = window_of(found(desk, "Hatch glass", antenna="yes", brake_light="seen"), "Hatch glass")
    assert {one["finding"]: one["read_by"] for one in after["follows"]}.items() >= {
        "antenna": "shade", "brake_light": "survey",
    }.items()  # fmt: skip


# --- old film


def test_a_verdict_that_hangs_on_glass_under_old_film_is_held_until_it_is_stripped_and_metered(desk: Desk) -> None:
    label = "Driver front"
    window = window_of(opened(desk), label)
    on = window_of(patch(desk, window, old_film=True, bare_vlt_source="assumed", bare_vlt_percent=76), label)
    assert on["bare_vlt_source"] == "assumed"
    assert on["under_old_film"]
    assert on["held"] is not None
    assert "old film" in on["held"].lower()
    stripped = window_of(patch(desk, on, old_film_off=True), label)
    metered = window_of(patch(desk, stripped, bare_readings_percent=[76, 75.5, 76.5]), label)
    assert not metered["under_old_film"]
    assert metered["held"] is None


def test_the_lead_may_let_a_window_go_on_by_a_reason_under_old_film(desk: Desk) -> None:
    label = "Driver front"
    window = window_of(opened(desk), label)
    on = window_of(patch(desk, window, old_film=True, bare_vlt_source="assumed", bare_vlt_percent=76), label)
    body = {
        "version": on["version"], "film_id": on["film_id"], "kind": "bare_glass_assumed",
        "document": "Same model metered last week",
    }  # fmt: skip
    after = window_of(desk.do("POST", f"/windows/{on['id']}/reason", body, status=201), label)
    assert after["held"] is None
    assert after["reason"]["words"].startswith("bare glass under old film")


# --- openings and the walk


@pytest.mark.parametrize(
    ("opening", "labels"),
    [
        ("sliding_rear", ["Rear slider, left", "Rear slider, middle", "Rear slider, right"]),
        ("barn_doors", ["Rear door, left", "Rear door, right"]),
        ("cargo_sides", ["Driver cargo side", "Passenger cargo side"]),
    ],
)
def test_the_panes_of_an_opening_come_with_names_of_their_own(desk: Desk, opening: str, labels: list[str]) -> None:
    job = opened(desk, "Drover crew cab, fronts and strip")
    after = desk.do("POST", f"/jobs/{job['id']}/openings", {"opening": opening}, status=201)
    assert [one["label"] for one in after["windows"][len(job["windows"]) :]] == labels
    newest = after["windows"][-1]
    assert newest["bare_vlt_source"] == "assumed"
    renamed = patch(desk, newest, label="Curb side pane")
    assert renamed["windows"][-1]["label"] == "Curb side pane"


def test_an_opening_that_is_not_on_file_is_refused_with_those_that_are(desk: Desk) -> None:
    job = opened(desk)
    refused = desk.do("POST", f"/jobs/{job['id']}/openings", {"opening": "porthole"}, status=422)
    assert "sliding_rear" in refused["fields"]["opening"]


def test_windows_are_put_in_another_order_of_the_walk(desk: Desk) -> None:
    job = opened(desk, MORROW)
    labels = [one["label"] for one in job["windows"]]
    third = job["windows"][2]
    body = {"version": third["version"], "by": -1}
    after = desk.do("POST", f"/windows/{third['id']}/move", body)
    assert [one["label"] for one in after["windows"]] == [labels[0], labels[2], labels[1], *labels[3:]]
    desk.do("POST", f"/windows/{third['id']}/move", body, status=409)  # already moved on
    first = after["windows"][0]
    same = desk.do("POST", f"/windows/{first['id']}/move", {"version": first["version"], "by": -1})
    assert [one["label"] for one in same["windows"]] == [one["label"] for one in after["windows"]]


# --- photos


def test_a_photo_is_kept_with_the_job_and_seen_again(desk: Desk) -> None:
    job = opened(desk)
    window = window_of(job, "Back glass")
    after = desk.do("POST", f"/jobs/{job['id']}/photos", {"content": picture(), "window_id": window["id"]}, status=201)
    (photo,) = after["photos"]
    assert photo["window_id"] == window["id"]
    seen = desk.call("GET", f"/jobs/{job['id']}/photos/{photo['id']}")
    assert seen.mimetype == "image/jpeg"
    assert Image.open(BytesIO(seen.data)).size == (40, 20)
    desk.do("GET", f"/jobs/{opened(desk, MORROW)['id']}/photos/{photo['id']}", status=404)


@pytest.mark.parametrize(
    "content", ["%%%", base64.b64encode(b"<svg onload='x'/>").decode(), base64.b64encode(b"GIF89a").decode()]
)
def test_what_is_no_picture_is_not_kept(desk: Desk, content: str) -> None:
    job = opened(desk)
    assert "content" in desk.do("POST", f"/jobs/{job['id']}/photos", {"content": content}, status=422)["fields"]
    assert opened(desk)["photos"] == []


# --- curves, corners, amber, mirror


def test_levels_ask_for_what_a_station_needs_and_flat_glass_for_no_crowns(desk: Desk) -> None:
    window = window_of(opened(desk, MORROW), "Hatch glass")
    curved = window_of(patch(desk, window, level="curve"), "Hatch glass")
    assert {"crown_across", "crown_across_chord", "crown_up", "crown_up_chord", "diagonal_rising"} <= set(
        curved["asked_readings"]
    )
    serves = {one["level"]: [key["key"] for key in one["missing"]] for one in curved["pane"]["serves"]}
    assert serves["size"] == []
    assert "diagonal_rising" in serves["shape"]
    flat = window_of(patch(desk, curved, curve="flat"), "Hatch glass")
    assert not [key for key in flat["asked_readings"] if key.startswith("crown_")]


def test_a_pane_of_six_corners_is_read_by_number(desk: Desk) -> None:
    window = window_of(opened(desk, MORROW), "Driver cargo side")
    after = window_of(patch(desk, window, level="shape", figure="six", reentrant=["corner_4"]), "Driver cargo side")
    assert len(after["corner_names"]) == 6
    assert len(after["asked_readings"]) == 10
    assert after["reentrant"] == ["corner_4"]
    refused = patch(desk, after, status=422, reentrant=["corner_9"])
    assert "reentrant" in json.dumps(refused["fields"])
    five = window_of(patch(desk, after, figure="five"), "Driver cargo side")
    assert five["reentrant"] == ["corner_4"]
    four = window_of(patch(desk, five, figure="four"), "Driver cargo side")
    assert four["reentrant"] == [], "a four-cornered pane has no corner 4 by number"


def test_amber_is_kept_by_a_word_and_asked_again_by_a_new_reading(desk: Desk) -> None:
    label = "Driver front"
    window = window_of(opened(desk), label)
    typed = window["readings"]["diagonal_rising"]["typed"]
    whole, rest = typed.split()[0], typed[len(typed.split()[0]) :]
    amber = window_of(patch(desk, window, readings={"diagonal_rising": read(f"{whole}{rest or ' 0/16'}")}), label)
    assert amber["pane"]["fit"]["closing"] == "closes"
    off = window_of(patch(desk, amber, readings={"diagonal_rising": read("39 1/2")}), label)
    assert off["pane"]["fit"]["closing"] in ("amber", "alarm")
    assert off["pane"]["fit"]["changes"]
    kept = window_of(patch(desk, off, readings_kept=True), label)
    assert kept["readings_kept"]
    again = window_of(patch(desk, kept, readings={"diagonal_rising": read(typed)}), label)
    assert not again["readings_kept"]


def test_a_slip_is_held_also_where_nobody_read_the_crowns_until_somebody_stands_by_it(desk: Desk) -> None:
    """No answer gets better by ignorance: unread crowns make it amber, and the knife waits all the same."""
    label, mirrored = "Driver rear", "Passenger rear"
    crowns = dict.fromkeys(("crown_across", "crown_across_chord", "crown_up", "crown_up_chord"))
    unread = patch(desk, window_of(opened(desk, MORROW), label), level="shape", readings=crowns)
    window = window_of(unread, label)
    assert (window["pane"]["fit"]["closing"], window["pane"]["fit"]["softened"]) == ("amber", True)
    assert window["ticks"]["survey"] == "trouble"
    for one in (label, mirrored):
        assert "crowns that nobody has read" in window_of(unread, one)["held"]
    kept = patch(desk, window, readings_kept=True)
    assert [window_of(kept, one)["held"] for one in (label, mirrored)] == [None, None]
    read_again = patch(desk, window_of(kept, label), readings={"diagonal_rising": read("36")})
    assert window_of(read_again, label)["pane"]["fit"]["closing"] == "closes"
    assert window_of(read_again, label)["held"] is None


def test_a_pane_read_as_its_mirror_image_is_asked_about_and_turned_over(desk: Desk) -> None:
    job = opened(desk, MORROW)
    rear = window_of(job, "Driver front")
    own = {key: {"typed": one["typed"]} for key, one in rear["readings"].items()}
    passenger = window_of(job, "Passenger front")
    own = {key: one for key, one in own.items() if key not in ("strip_depth",)}
    after = patch(
        desk, passenger, same_as_id=None, same_as_mirrored=False, level="shape", curve=rear["curve"], readings=own
    )
    pane = window_of(after, "Passenger front")
    assert "wrong way round" in pane["pane"]["mirror_doubt"]
    turned = window_of(
        desk.do("POST", f"/windows/{pane['id']}/turn-over", {"version": pane["version"]}), "Passenger front"
    )
    assert turned["pane"]["mirror_doubt"] == ""
    assert turned["readings"]["left"]["typed"] == rear["readings"]["right"]["typed"]
    assert turned["seen_from_outside"]


# --- two people


def test_two_people_with_different_findings_both_keep_theirs_told_by_name(desk_of: Any) -> None:
    ines, tobi = desk_of("ines"), desk_of("tobi")
    window = window_of(opened(ines, MORROW), "Driver rear")
    patch(ines, window, findings={"side_seals": "worn"})
    refused = patch(tobi, window, status=409, findings={"latch": "hand"})
    assert [(one["field"], one["now"]) for one in refused["changed"]] == [("findings.side_seals", "worn")]
    fresh = window_of(opened(tobi, MORROW), "Driver rear")
    both = window_of(patch(tobi, fresh, findings={"latch": "hand"}), "Driver rear")
    assert both["findings"] == {"side_seals": "worn", "latch": "hand"}


def test_two_people_with_readings_of_one_pane_are_told_which(desk_of: Any) -> None:
    ines, tobi = desk_of("ines"), desk_of("tobi")
    window = window_of(opened(ines, MORROW), "Driver rear")
    patch(ines, window, readings={"top": read("29")})
    refused = patch(tobi, window, status=409, readings={"left": read("19")})
    changed = {one["field"] for one in refused["changed"]}
    assert "readings.top" in changed
    assert "readings.left" not in changed


def test_a_back_glass_of_two_inches_is_asked_whether_it_is_meant(desk: Desk) -> None:
    job = desk.do("POST", "/jobs", {"vehicle_label": "Fenwick 4", "body": "sedan", "states": ["TX"]}, status=201)
    label = "Back glass"

    def sized(width: str, height: str) -> Any:
        readings = {"width": {"typed": width, "mode": "surface"}, "height": {"typed": height, "mode": "surface"}}
        return window_of(patch(desk, window_of(again(desk, job), label), readings=readings), label)

    assert sized("50", "28")["pane"]["size_doubt"] == ""
    slip = sized("50 mm", "40 mm")
    assert slip["pane"]["size_doubt"] == "1 15/16 × 1 9/16 in: is that meant? Back glass is usually 12 to 79 in long."
    meant = window_of(patch(desk, slip, readings_kept=True), label)
    assert meant["pane"]["size_doubt"] == ""
    assert "is that meant" in sized("50 mm", "41 mm")["pane"]["size_doubt"]  # what is read anew is asked anew


def test_the_glass_of_a_new_car_is_not_read_and_its_run_takes_no_razor_until_it_is(desk: Desk) -> None:
    job = desk.do("POST", "/jobs", {"vehicle_label": "Fenwick 4", "body": "sedan", "states": ["TX"]}, status=201)
    read = {one["label"]: one["glass_type"] for one in job["windows"]}
    assert read.pop("Windshield") == "laminated"
    assert set(read.values()) == {"unknown"}
    job = patch(desk, window_of(job, "Driver front"), film_id="dusk35")

    def steps() -> set[str]:
        return {step["key"].split("@")[0] for step in run_of(bay(desk, job), "Driver front")["steps"]}

    unread = steps()
    assert "razor_pass" not in unread
    assert {"pad_pass", "warn_heat"} <= unread
    patch(desk, window_of(again(desk, job), "Driver front"), glass_type="tempered")
    assert "razor_pass" in steps()
    assert "warn_heat" not in steps()
