"""Sums in answers: seen by who sees prices, left out for who does not."""

from __future__ import annotations

import pytest
from pydantic import BaseModel

from elumbra.documents.money import Priced, PricedWords, seen_by, without_sums


class Bill(BaseModel):
    """Something with a sum, and sentences with sums."""

    cost: Priced
    words: PricedWords
    minutes: float


BILL = Bill(cost=12.5, words=["It costs $1,204.50 more.", "All of it fits."], minutes=3.0)


def test_who_sees_prices_is_told_all() -> None:
    assert BILL.model_dump(context=seen_by(True)) == {"cost": 12.5, "words": BILL.words, "minutes": 3.0}


def test_who_does_not_is_told_no_sum() -> None:
    told = {"cost": None, "words": ["It costs more.", "All of it fits."], "minutes": 3.0}
    assert BILL.model_dump(context=seen_by(False)) == told


def test_kept_files_hold_all() -> None:
    """Where nobody is named, it is no answer: what is kept on disk, what is computed on."""
    assert BILL.model_dump() == BILL.model_dump(context={}) == BILL.model_dump(context=seen_by(True))


@pytest.mark.parametrize(
    ("words", "said"),
    [
        ("", ""), ("Nothing to pay.", "Nothing to pay."), ("Pay $5 now.", "Pay now."), ("Pay $5.00.", "Pay."),
        ("From $1,000 to $12,345.67 a car.", "From to a car."), ("A US$ price", "A US$ price"),
    ],
)  # fmt: skip
def test_sums_are_taken_out_of_a_sentence(words: str, said: str) -> None:
    assert without_sums(words) == said
