import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import LengthError
from elumbra.core.units import format_inches, inches, parse_length
from tests.catalogue.panes import LENGTHS


@pytest.mark.parametrize(("typed", "mm"), LENGTHS["good"])
def test_reads_what_a_tape_says(typed: str, mm: float) -> None:
    length = parse_length(typed)
    assert length.mm == pytest.approx(mm, abs=1e-9)
    assert length.typed == typed.strip()


@pytest.mark.parametrize("typed", LENGTHS["bad"])
def test_refuses_with_reason_and_mend(typed: str) -> None:
    with pytest.raises(LengthError) as refusal:
        parse_length(typed)
    assert len(refusal.value.message) > 20
    assert "{" not in refusal.value.message


@pytest.mark.parametrize(("mm", "shown"), LENGTHS["formatted"])
def test_shows_sixteenths(mm: float, shown: str) -> None:
    assert format_inches(mm) == shown


@given(whole=st.integers(0, 400), steps=st.integers(0, 63))
def test_every_sixty_fourth_is_exact_and_comes_back(whole: int, steps: int) -> None:
    typed = f"{whole} {steps}/64"
    mm = parse_length(typed).mm
    assert mm == pytest.approx((whole + steps / 64) * 25.4, abs=1e-9)
    assert parse_length(format_inches(mm, denominator=64)).mm == pytest.approx(mm, abs=1e-9)


@given(st.text(max_size=30))
def test_any_text_is_a_length_or_a_refusal(text: str) -> None:
    try:
        assert parse_length(text).mm >= 0
    except LengthError as error:
        assert error.message


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("3' 14", "14 inches after the feet; that part runs from 0 to under 12"),
        ("39 3/7", "a fraction in 7ths"),
        ("39 9/8", "a fraction of one inch or more"),
        ("-3", "is negative"),
        ("abc", "“abc” is not a size"),
    ],
)
def test_says_what_is_wrong(typed: str, says: str) -> None:
    with pytest.raises(LengthError) as refusal:
        parse_length(typed)
    assert says in refusal.value.message


def test_inches_are_exact() -> None:
    assert inches(39.375) == pytest.approx(1000.125)
