"""What a cut takes off the rack: whole counts, shared out by area, none lost."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.cut import COUNTS_PER_MM, Booking, book, shared_out
from elumbra.core.cut.booking import _apportioned


def test_a_sixteenth_and_a_millimetre_are_whole_counts() -> None:
    assert COUNTS_PER_MM * 25.4 / 16 == 127


@pytest.mark.parametrize(
    ("taken", "used", "kept", "shares"),
    [
        (1000, 0.5, 0.25, (500, 250, 250)), (3, 0.34, 0.33, (1, 1, 1)), (1, 0.5, 0.5, (0, 0, 1)), (7, 1.0, 0.0, (7, 0, 0)),
        (0, 0.0, 0.0, (0, 0, 0)), (3, 0.5, 0.5, (2, 1, 0)), (5, 0.9, 0.1, (4, 0, 1)),
    ],
)  # fmt: skip
def test_every_count_taken_is_used_kept_or_waste(
    taken: int, used: float, kept: float, shares: tuple[int, int, int]
) -> None:
    area = taken / 80 * 500.0
    found = book(taken=taken, width=500.0, used_area=used * area, kept_area=kept * area)
    assert (found.used, found.kept, found.waste) == shares
    assert found.taken == taken


def test_more_than_was_taken_cannot_be_used_but_for_rounding() -> None:
    with pytest.raises(ValueError, match=r"^150 mm² cannot come out of 100 mm²$"):
        book(taken=80, width=100.0, used_area=120.0, kept_area=30.0)
    # A square millimetre and a millionth of it are rounding: 101.0001 of 100 mm² is all of it.
    assert book(taken=80, width=100.0, used_area=101.0, kept_area=0.00009) == Booking(80, 0, 0)
    with pytest.raises(ValueError, match="cannot come out of"):
        book(taken=80, width=100.0, used_area=101.0, kept_area=0.00011)
    with pytest.raises(ValueError, match="cannot come out of"):
        book(taken=80, width=100.0, used_area=102.0, kept_area=0.0)
    assert book(taken=0, width=100.0, used_area=1.0, kept_area=0.0) == Booking(0, 0, 0)
    # Kept is what is left of the counts, never more.
    assert book(taken=2, width=80.0, used_area=2.0, kept_area=1.0) == Booking(2, 0, 0)


@given(
    st.integers(0, 5000), st.integers(0, 500), st.integers(0, 500), st.lists(st.floats(0, 1e6), min_size=1, max_size=6)
)
def test_no_count_is_lost_when_jobs_share_a_length(used: int, kept: int, waste: int, areas: list[float]) -> None:
    whole = Booking(used, kept, waste)
    shares = shared_out(whole, areas)
    assert sum(one.used for one in shares) == used
    assert sum(one.kept for one in shares) == kept
    assert sum(one.waste for one in shares) == waste
    assert all(min(one.used, one.kept, one.waste) >= 0 for one in shares)
    total = sum(areas)
    for share, area in zip(shares, areas, strict=True):
        if total > 1:
            assert abs(share.used - used * area / total) <= 1


@pytest.mark.parametrize(
    ("whole", "areas", "shares"),
    [
        # The largest remainder is rounded up first, the earlier job where two are alike.
        (Booking(10, 0, 0), [1.0, 1.0, 1.0], [(4, 0, 0), (3, 0, 0), (3, 0, 0)]),
        (Booking(11, 0, 5), [1.0, 1.0, 1.0], [(4, 0, 2), (4, 0, 2), (3, 0, 1)]),
        (Booking(3, 0, 0), [1.0, 3.0], [(1, 0, 0), (2, 0, 0)]),
        (Booking(10, 0, 0), [2.6, 2.3, 5.1], [(3, 0, 0), (2, 0, 0), (5, 0, 0)]),
        # What is kept goes whole to the first that has any film in it, and everything to the first where nobody has.
        (Booking(10, 4, 3), [0.0, 0.5, 0.5], [(0, 0, 0), (5, 4, 2), (5, 0, 1)]),
        (Booking(10, 4, 3), [0.0, 0.0], [(10, 4, 3), (0, 0, 0)]),
        (Booking(10, 4, 3), [7.0], [(10, 4, 3)]),
    ],
)  # fmt: skip
def test_a_shared_length_is_kept_whole_to_the_first_job(
    whole: Booking, areas: list[float], shares: list[tuple[int, int, int]]
) -> None:
    assert [(one.used, one.kept, one.waste) for one in shared_out(whole, areas)] == shares


def test_each_gets_one_share() -> None:
    assert _apportioned(5, [0.0, 0.0]) == [5, 0]
    assert _apportioned(5, [1.0]) == [5]
