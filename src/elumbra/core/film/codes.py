"""Codes on the labels of stock: which shop, which piece, and a check that a misread code is no code.

A code reads ``K7QD-42-8``: four characters of the shop, the piece's number, one check character by
ISO/IEC 7064, MOD 37-2, which tells every single wrong character and every two exchanged ones.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from elumbra.core.errors import CoreError

SHOP_LETTERS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"  # none that is read as another
SHOP_LENGTH = 4
_ALPHABET = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ*"
_CODE = re.compile(rf"([A-Z0-9]{{{SHOP_LENGTH}}})[\s-]*([0-9OIL]{{1,9}})[\s-]*([0-9A-Z*])")


@dataclass(frozen=True)
class StockCode:
    """Which piece of stock of which shop."""

    shop: str
    number: int

    def __str__(self) -> str:
        """As it stands on the label.

        Examples
        --------
        >>> str(StockCode("K7QD", 42))
        'K7QD-42-T'
        """
        return f"{self.shop}-{self.number}-{_check(f'{self.shop}{self.number}')}"


def parse_code(text: str) -> StockCode:
    """Read a code as typed or scanned: small letters, blanks for dashes and O for zero are taken.

    Raises
    ------
    CoreError
        No code, or one character of it is wrong.

    Examples
    --------
    >>> parse_code("k7qd 42 t")
    StockCode(shop='K7QD', number=42)
    """
    found = _CODE.fullmatch(text.strip().upper())
    if found is None:
        raise CoreError(f"“{text.strip()[:40]}” is no code of a label; one reads like {StockCode('K7QD', 42)}.")
    shop, number, check = found.groups()
    digits = number.replace("O", "0").replace("I", "1").replace("L", "1")
    if _check(f"{shop}{digits}") != check:
        raise CoreError(f"“{text.strip()}” is misread: one of its characters is wrong. Read the label again.")
    return StockCode(shop, int(digits))


def _check(body: str) -> str:
    total = 0
    for letter in body:
        total = (total + _ALPHABET.index(letter)) * 2 % 37
    return _ALPHABET[(38 - total) % 37]
