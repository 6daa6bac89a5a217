"""Which school of shrinking fits: how, dry or wet, glove or card, on the car or on a board.

Decision tables with reasons (heart, section 7; handbook, section 8). The shop may prefer one answer; it is
then told where that overrules what was computed.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.glass import DOORS, WindowKind
from elumbra.core.shrink.verdict import ShrinkWord


class Ask(StrEnum):
    """What is decided."""

    HOW = "how"
    WATER = "water"
    HAND = "hand"
    PLACE = "place"


OPTIONS: Mapping[Ask, Mapping[str, str]] = {
    Ask.HOW: {
        "nothing": "nothing to shrink",
        "snap": "snap shrink at the foot",
        "card": "form fingers, heat and card each one",
    },
    Ask.WATER: {"dry": "dry, on dryer sheet or powder", "wet": "wet, on slip"},
    Ask.HAND: {"glove": "gloved hand", "card": "hard card"},
    Ask.PLACE: {"car": "on the car", "board": "on the board"},
}
"""What can be answered, by question, in words."""

LABELS: Mapping[Ask, str] = {
    Ask.HOW: "How to shrink", Ask.WATER: "Dry or wet", Ask.HAND: "Pressed with", Ask.PLACE: "Shrunk where"
}  # fmt: skip
"""What each question is called."""


@dataclass(frozen=True)
class Piece:
    """What the school hangs on."""

    word: ShrinkWord
    kind: WindowKind
    rough_outside: bool = False  # pitted or oversprayed
    strip: bool = False


@dataclass(frozen=True)
class Advice:
    """An answer with its reason; ``computed`` differs where the shop prefers another."""

    ask: Ask
    answer: str
    why: str
    section: str
    computed: str

    @property
    def overruled(self) -> bool:
        """Whether the shop's setting goes before what was computed."""
        return self.answer != self.computed

    @property
    def words(self) -> str:
        """The answer as an installer says it."""
        return OPTIONS[self.ask][self.answer]


_BIG = frozenset(
    {WindowKind.BACK_GLASS, WindowKind.HATCH, WindowKind.WINDSHIELD, WindowKind.SUNROOF, WindowKind.FIXED_SIDE}
)


def school_of(piece: Piece, *, preferred: Mapping[str, str] | None = None) -> tuple[Advice, ...]:
    """The advice for one piece, question by question; nothing further where nothing is shrunk.

    Examples
    --------
    >>> [one.answer for one in school_of(Piece(ShrinkWord.CARD, WindowKind.BACK_GLASS))]
    ['card', 'dry', 'glove', 'car']
    >>> [one.answer for one in school_of(Piece(ShrinkWord.FLAT, WindowKind.QUARTER))]
    ['nothing']
    """
    found = [_advice(Ask.HOW, _how(piece), None)]
    if piece.word is ShrinkWord.FLAT:
        return tuple(found)
    preferred = preferred or {}
    for ask, decided in ((Ask.WATER, _water(piece)), (Ask.HAND, _hand(piece)), (Ask.PLACE, _place(piece))):
        found.append(_advice(ask, decided, preferred.get(ask.value)))
    return tuple(found)


_Decided = tuple[str, str, str]  # answer, why, section


def _advice(ask: Ask, decided: _Decided, preferred: str | None) -> Advice:
    answer, why, section = decided
    if preferred is not None and preferred in OPTIONS[ask] and preferred != answer:
        return Advice(
            ask, preferred, f"The shop's own way; computed was {OPTIONS[ask][answer]}. {why}", section, answer
        )
    return Advice(ask, answer, why, section, answer)


def _how(piece: Piece) -> _Decided:
    if piece.word is ShrinkWord.FLAT:
        return "nothing", "What must go is less than film gives by itself.", "8"
    if piece.word is ShrinkWord.SNAP and piece.kind in DOORS:
        return "snap", "Little must go, and at a door it gathers at the foot: one warm pass there, no card.", "8"
    if piece.word is ShrinkWord.SNAP:
        return "snap", "Little must go: one warm pass along the edge, no card.", "8"
    return "card", "More than a snap must go: each finger is heated until it softens, then pressed down.", "8"


def _water(piece: Piece) -> _Decided:
    if piece.kind in _BIG and not piece.strip and piece.word is not ShrinkWord.SNAP:
        return "dry", "Large glass with fingers: film floats on dry residue and slides where it must.", "8"
    return "wet", "A small piece holds on slip, and the water is pressed out as it lies down.", "8"


def _hand(piece: Piece) -> _Decided:
    if piece.rough_outside:
        return "card", "Rough outside: card through a rag, or grit tears the film.", "8"
    if piece.word in (ShrinkWord.HARD, ShrinkWord.WILL_NOT):
        return (
            "card",
            "Near the film's limit a card presses each finger out at its spot and keeps its neighbours from pinching.",
            "8",
        )
    return "glove", "A glove of wool or another cloth that slides follows the curve.", "8"


def _place(piece: Piece) -> _Decided:
    if piece.word is ShrinkWord.SNAP and piece.kind in DOORS:
        return "board", "A snap at the foot is done on the board, with no rubber or panel near the gun.", "8"
    return "car", "The glass itself is the only mould that has this curve.", "8"
