"""The printed day: ten cars on one page, more on several, nothing cut off either way."""

from __future__ import annotations

from io import BytesIO

import pytest
from pypdf import PdfReader

from elumbra.documents.day_sheet import Bar, DayPaper, Lane, Stretch, day_sheet_pdf
from elumbra.documents.paper import Paper


def day_of(cars: int, people: int, stretches: int) -> DayPaper:
    bars = tuple(Bar(60 * i - 330, 60 * i - 280, f"{1000 + i} car", i) for i in range(12))  # some of the day before
    names = [f"Person{i}" for i in range(people)]
    return DayPaper(
        title="Friday",
        headline="All ready",
        begins=0,
        ends=600,
        marks=[(60 * i, f"{8 + i}:00") for i in range(10)],
        lanes=[Lane(name, "", bars) for name in ("Bay 1", "Bay 2", "Bay 3", *names)],
        cars=[[f"{1000 + i} Morrow Trail SUV", "8:00 AM", "Bay 1", "4:00 PM", "5:00 PM", "92%", "", "a note"]
              for i in range(cars)],
        lists=[
            (name, [Stretch("8:00 AM", "9:10 AM", f"{1000 + k}, Bay {k % 3}", f"prepare, cut, shrink, step{i}x{k}")
                    for k in range(stretches)])
            for i, name in enumerate(names)
        ],
        told=["1010 does not fit: 2 h of work. Another day for it."],
    )  # fmt: skip


def read(day: DayPaper, paper: Paper) -> tuple[int, str]:
    reader = PdfReader(BytesIO(day_sheet_pdf(day, paper=paper)))
    return len(reader.pages), "\n".join(page.extract_text() for page in reader.pages)


@pytest.mark.parametrize("paper", list(Paper))
@pytest.mark.parametrize(("cars", "people", "stretches"), [(0, 0, 0), (1, 1, 2), (10, 2, 12), (10, 5, 14), (10, 7, 10)])
def test_a_day_of_up_to_ten_cars_is_one_page(paper: Paper, cars: int, people: int, stretches: int) -> None:
    day = day_of(cars, people, stretches)
    pages, text = read(day, paper)
    assert pages == 1
    assert all(row[0] in text for row in day.cars)
    assert all(f"step{i}x{k}" in text for i in range(people) for k in range(stretches))
    assert day.told[0] in text


def test_a_day_of_28_cars_goes_over_pages_whole() -> None:
    day = day_of(28, 6, 30)
    pages, text = read(day, Paper.LETTER)
    assert pages > 1
    assert all(row[0] in text for row in day.cars)
    assert all(f"step{i}x{k}" in text for i in range(6) for k in range(30))


def test_a_stay_since_the_day_before_is_drawn_from_the_morning_on() -> None:
    """Bars begin where the day does: none is drawn over the names on the left."""
    reader = PdfReader(BytesIO(day_sheet_pdf(day_of(2, 1, 1))))
    boxes: list[float] = []
    left = 12 * 72 / 25.4 + 30 * 72 / 25.4  # the margin and the names

    def seen(operator: bytes, operands: list[float], matrix: list[float], _: object) -> None:
        if operator == b"re":
            boxes.append(float(operands[0]) + float(matrix[4]))

    reader.pages[0].extract_text(visitor_operand_before=seen)
    assert len(boxes) > 20
    assert min(boxes) >= left - 1
