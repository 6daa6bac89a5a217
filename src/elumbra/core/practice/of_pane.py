"""A pane as it was measured, made ready to practise on."""

from __future__ import annotations

from contextlib import suppress

from elumbra.core.errors import CoreError
from elumbra.core.practice.board import Board, Lie, lie_of
from elumbra.core.shrink import Bears, Net, ShrinkError, Unrolled
from elumbra.core.work import OnGlass, lay


def board_of(on: OnGlass, bears: Bears, *, laminated: bool) -> Board:
    """The board of a pane: the map that Heat has, laid both ways.

    Parameters
    ----------
    on
        The piece and its glass.
    bears
        What the film bears.
    laminated
        Whether the glass is laminated, or nobody knows: it breaks sooner.

    Raises
    ------
    CoreError
        Nothing lies on this glass across the car, or readings that no glass has.
    """
    across = lay(on, Unrolled.ACROSS)
    lies = {Unrolled.ACROSS: _lie(on, Unrolled.ACROSS, bears)}
    with suppress(CoreError):  # else it lies across only; asked for up, the run says so
        lies[Unrolled.UP] = _lie(on, Unrolled.UP, bears)
    return Board(lies, bears.limit, across.verdict(bears).word, laminated, on.starting)


def _lie(on: OnGlass, way: Unrolled, bears: Bears) -> Lie:
    laid = lay(on, way)
    if laid.piece.largest >= 1:
        raise ShrinkError("No flat film lies on this glass this way.")
    net = Net(on.glass.face, laid.anchor)
    return lie_of(laid.piece, laid.plan(bears), net, play=on.starting["practice_play_mm"])
