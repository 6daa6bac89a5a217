"""From a job file to plan, PDF and SVG, and the command line that does all three."""

import json
from io import BytesIO
from pathlib import Path
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from pypdf import PdfReader

from elumbra import plan_files
from elumbra.cli import main
from elumbra.core.errors import CoreError
from elumbra.core.film import FACING, LinerSide
from elumbra.documents.cut_sheet import Paper, cut_sheet_pdf
from elumbra.documents.job_file import parse_job_file
from elumbra.documents.layout_svg import layout_svg
from elumbra.documents.plan import PlanDocument
from elumbra.storage.data_files import law_file, starting_values
from elumbra.tasks.plan import final_plan, plan_job_file
from tests.catalogue.jobs import job_document

SVG = "{http://www.w3.org/2000/svg}"


def plan_of(document: dict) -> PlanDocument:
    return final_plan(parse_job_file(json.dumps(document).encode()), law_file(), starting_values(), today="2026-11-24")


@pytest.fixture(scope="module")
def plan() -> PlanDocument:
    return plan_of(job_document())


def pdf_text(content: bytes) -> str:
    return " ".join(" ".join(page.extract_text() for page in PdfReader(BytesIO(content)).pages).split())


def test_every_window_with_film_is_cut_once_from_its_own_film(plan: PlanDocument) -> None:
    cut = {film.film_id: sorted(piece.window_id for piece in film.pieces) for film in plan.films}
    assert cut == {"carbon35": ["df", "dr", "pf"], "dark20": ["bk"]}
    assert plan.finished
    assert plan.proven


def test_pairs_point_at_each_other(plan: PlanDocument) -> None:
    pieces = {piece.window_id: piece for piece in plan.films[0].pieces}
    assert pieces["df"].pair_mark == pieces["pf"].mark
    assert pieces["pf"].pair_mark == pieces["df"].mark
    assert pieces["dr"].pair_mark is None


def test_plan_is_repeatable(plan: PlanDocument) -> None:
    assert plan_of(job_document()) == plan


def test_first_plans_are_verified_and_marked_unfinished() -> None:
    document = parse_job_file(json.dumps(job_document()).encode())
    plans = list(plan_job_file(document, law_file(), starting_values(), today="2026-11-24"))
    assert len(plans) >= 2
    assert [p.finished for p in plans] == [False] * (len(plans) - 1) + [True]
    assert {tuple(film.film_id for film in p.films) for p in plans} == {("carbon35", "dark20")}, (
        "no film is ever left out"
    )
    assert {p.cut_windows for p in plans} == {frozenset({"df", "dr", "pf", "bk"})}
    assert all(film.finished for film in plans[0].as_ended().films)


def test_unknown_state_in_the_file_is_refused() -> None:
    document = job_document()
    document["job"]["vehicle"]["states"] = ["ZZ"]
    with pytest.raises(CoreError, match="no state “ZZ”"):
        plan_of(document)


def test_starting_values_of_the_file_count() -> None:
    document = job_document() | {"starting_values": {"blank_play_mm": 50.8}}
    (piece,) = [p for p in plan_of(document).films[0].pieces if p.window_id == "dr"]
    assert sorted([piece.along_mm, piece.across_mm])[1] == pytest.approx((35 + 7 / 16 + 4) * 25.4, abs=0.01)
    with pytest.raises(CoreError, match="no starting value “blank_pla”"):
        plan_of(job_document() | {"starting_values": {"blank_pla": 1}})


@pytest.mark.parametrize(("paper", "size"), [(Paper.LETTER, (792, 612)), (Paper.A4, (842, 595))])
def test_cut_sheet_says_what_the_bench_needs(plan: PlanDocument, paper: Paper, size: tuple[int, int]) -> None:
    content = cut_sheet_pdf(plan, paper=paper)
    page = PdfReader(BytesIO(content)).pages[0]
    assert (round(float(page.mediabox.width)), round(float(page.mediabox.height))) == size
    text = pdf_text(content)
    for words in (
        "Test car Catalogue sedan · A. Nobody · TX · cut sheet", "FILM UP, LINER DOWN",
        "SIDE NOT KNOWN: CHECK WITH TWO TABS OF TAPE", "Driver front", "Passenger front", "machine direction",
        "turned over", "driver", "passenger", "Clears", "Tex. Transp. Code 547.613", "not legal advice",
    ):  # fmt: skip
        assert words in text, words
    for film in plan.films:
        for stock in film.stocks:
            assert (f"from {stock.label}" in text) == (stock.used_mm > 0)


def test_illegal_darkness_never_prints_as_lawful() -> None:
    document = job_document()
    document["job"]["vehicle"]["states"] = ["NH"]
    text = pdf_text(cut_sheet_pdf(plan_of(document)))
    assert "Not allowed" in text
    assert "allows no film at the front side" in text
    assert "Clears" not in text


def test_sheet_of_nothing_says_so() -> None:
    document = job_document()
    for window in document["job"]["windows"]:
        window["film"] = None
    text = pdf_text(cut_sheet_pdf(plan_of(document)))
    assert "Nothing to cut" in text


def test_odd_characters_in_names_print() -> None:
    document = job_document()
    document["job"]["title"] = "A <b>bold</b> & “quoted” car"
    document["job"]["windows"][0]["label"] = "Front <left> & more"
    assert "Front <left> & more" in pdf_text(cut_sheet_pdf(plan_of(document)))


def svg_root(plan: PlanDocument, film: int = 0) -> ET.Element:
    return ET.fromstring(layout_svg(plan.films[film]))


def ring_of(root: ET.Element, window: str) -> np.ndarray:
    (group,) = [g for g in root.iter(f"{SVG}g") if g.get("data-window") == window]
    (polygon,) = group.iter(f"{SVG}polygon")
    points = (polygon.get("points") or "").split()
    return np.array([[float(v) for v in point.split(",")] for point in points])


def test_svg_is_to_true_scale(plan: PlanDocument) -> None:
    root = svg_root(plan)
    width = float((root.get("width") or "").removesuffix("mm"))
    box = [float(v) for v in (root.get("viewBox") or "").split()]
    assert width == pytest.approx(box[2]), "one unit is one millimetre"
    ring = ring_of(root, "dr")
    assert np.ptp(ring[:, 0]) * np.ptp(ring[:, 1]) == pytest.approx(35.4375 * 18 * 25.4**2, rel=1e-3)


def test_svg_names_the_side_up_and_numbers_the_cuts(plan: PlanDocument) -> None:
    root = svg_root(plan)
    text = " ".join(element.text or "" for element in root.iter(f"{SVG}text"))
    for stock in (one for one in plan.films[0].stocks if one.used_mm > 0):
        assert f"seen from above, {FACING[LinerSide(stock.liner)]}" in text
    numbers = [int(line.get("data-cut") or 0) for line in root.iter(f"{SVG}line") if line.get("data-cut")]
    assert sorted(numbers) == list(range(1, len(numbers) + 1))


def slope_side(ring: np.ndarray, *, foot_down: bool) -> str:
    """Where the door's long slope lies with its foot down; SVG's y runs downward."""
    points = ring if foot_down else -ring
    low, high = points[:, 0].min(), points[:, 0].max()
    top = points[points[:, 1] < points[:, 1].min() + 0.2 * np.ptp(points[:, 1])]
    return "left" if top[:, 0].min() - low > high - top[:, 0].max() else "right"


@pytest.mark.parametrize(("liner", "driver"), [("up", "left"), ("down", "right")])
def test_svg_shows_the_right_hand_for_both_sides_and_both_faces(liner: str, driver: str) -> None:
    """Hand check: from outside the driver's door slopes up at the left, toward the car's front."""
    document = job_document()
    for window in document["job"]["windows"]:
        window["curve"] = "both_ways"  # keeps every piece upright
    document["stock"][0]["liner"] = liner
    document["stock"].pop(1)
    made = plan_of(document)
    turns = {piece.window_id: piece.turn for piece in made.films[0].pieces}
    root = svg_root(made)
    found = {name: slope_side(ring_of(root, name), foot_down=turns[name] == 0) for name in ("df", "pf")}
    assert found["df"] == driver
    assert found["pf"] == {"left": "right", "right": "left"}[driver]
    facing = {"up": "LINER UP", "down": "FILM UP, LINER DOWN"}[liner]
    assert facing in pdf_text(cut_sheet_pdf(made))


def test_command_line_writes_plan_sheet_and_drawings(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job, out = tmp_path / "job.json", tmp_path / "out"
    job.write_text(json.dumps(job_document()))
    assert main(["plan", str(job), "--out", str(out)]) == 0
    assert sorted(path.name for path in out.iterdir()) == ["cut-sheet.pdf", "layout-1.svg", "layout-2.svg", "plan.json"]
    assert PlanDocument.model_validate_json((out / "plan.json").read_text()).finished
    assert "plan.json" in capsys.readouterr().out


@pytest.mark.parametrize(("content", "says"), [("{", "broken at line 1"), (None, "cannot be read")])
def test_command_line_refuses_and_writes_nothing(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], content: str | None, says: str
) -> None:
    job, out = tmp_path / "job.json", tmp_path / "out"
    if content is not None:
        job.write_text(content)
    assert main(["plan", str(job), "--out", str(out)]) == 2
    assert says in capsys.readouterr().err
    assert not out.exists()


def told_of(stock: dict[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> str:
    """What the command line says of the catalogue's job on another rack."""
    document = job_document()
    document["stock"] = [part | stock for part in document["stock"]]
    job = tmp_path / "job.json"
    job.write_text(json.dumps(document))
    assert main(["plan", str(job), "--out", str(tmp_path / "out")]) == 3
    return capsys.readouterr().err


def test_command_line_names_what_fits_no_roll(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    told = told_of({"width": "12"}, tmp_path, capsys)
    assert "no film for Back glass: Needs 27 in of width; the widest on the rack is 12 in." in told


def test_command_line_says_what_is_short_in_order(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A back glass of 41 3/8 by 25 in on a roll with 40 in left."""
    told = told_of({"length": "40"}, tmp_path, capsys)
    order = [
        "All of it fits with 1 3/8 in more on D20-36.",
        "A new roll of Dark 20 would do: 41 3/8 in of 30 in.",
        "With 11/16 in less extra each side on every hand-cut piece, all of it fits.",
        "As it is, 0 of 1 windows are cut; without film: Back glass.",
    ]
    places = [told.index(line) for line in order]
    assert places == sorted(places)


def test_command_line_tells_a_fault_in_a_sentence(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: object, **__: object) -> None:
        raise ZeroDivisionError("no such thing")

    monkeypatch.setattr(plan_files, "final_plan", fails)
    job, out = tmp_path / "job.json", tmp_path / "out"
    job.write_text(json.dumps(job_document()))
    assert main(["plan", str(job), "--out", str(out)]) == 4
    error = capsys.readouterr().err
    assert error.startswith("elumbra: the planner has a fault (ZeroDivisionError); ")
    assert "Traceback" not in error
    assert "no such thing" in (out / "fault.txt").read_text()


def illegal_wish(**reason: str) -> dict:
    """The catalogue's sedan in Georgia (32 %) with a 35 film on 75 glass, that is 29.2: Too dark on both fronts."""
    document = job_document()
    document["format_version"] = 2
    document["job"]["vehicle"]["states"] = ["GA"]
    if reason:
        for window in document["job"]["windows"][:2]:
            window["reason"] = {"film": "carbon35", "wish": "Carbon 35: Too dark"} | reason
    return document


def test_an_unlawful_film_without_a_reason_is_held_and_the_rest_is_cut() -> None:
    plan = plan_of(illegal_wish())
    assert {held.window_id for held in plan.held} >= {"df", "pf"}
    assert "Too dark in Georgia" in plan.held[0].reason
    assert "df" not in [piece.window_id for film in plan.films for piece in film.pieces]


def test_a_reason_is_on_every_paper_and_none_says_that_it_is_lawful() -> None:
    document = illegal_wish(
        kind="medical_exemption", document="GX-12", expires_on="2099-01-01", person="A. Lead", citation="rule 9"
    )
    plan = plan_of(document)
    verdict = next(one for one in plan.verdicts if one.window_id == "df")
    assert (verdict.word, verdict.goes_on) == ("Too dark", True)
    pdf = PdfReader(BytesIO(cut_sheet_pdf(plan)))
    for page in pdf.pages:
        assert "NOT LAWFUL AS IT STANDS" in page.extract_text()
    text = pdf_text(cut_sheet_pdf(plan))
    assert "document GX-12, expires 2099-01-01, by rule 9; by A. Lead" in text
    svg = layout_svg(next(film for film in plan.films if film.film_id == "carbon35"))
    assert b"Too dark in Georgia; goes on by reason: medical exemption, document GX-12" in svg


def test_a_job_file_brings_the_law_it_was_judged_by() -> None:
    """A file whose own record for Georgia says 20 % is planned by that, not by the shipped book."""
    document = illegal_wish()
    shipped = law_file().on("2026-11-24").of("GA")
    row = json.loads(json.dumps(dict(shipped.row)))
    row["passenger"]["front_side"] = {"kind": "floor", "value": 20}
    document["law"] = {"version": "kept", "day": "2026-10-01", "records": [row]}
    plan = plan_of(document)
    assert (plan.law_version, plan.law_day) == ("kept", "2026-10-01")
    assert {one.window_id: one.word for one in plan.verdicts}["df"] == "Clears"
    row["clauses"] = [{"id": "x", "role": "also", "positions": ["roof"], "sentence": "", "condition": {"nothing": 1}}]
    with pytest.raises(CoreError, match="unknown condition word “nothing”"):
        plan_of(document)
