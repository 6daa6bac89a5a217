"""What the survey sends."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from elumbra.api.base.bodies import Body, Id, Typed, Version, Words, with_facts
from elumbra.core.glass import Curve
from elumbra.core.measure import Figure, Level, TapeMode
from elumbra.core.work import WindowFacts


class ReadingIn(Body):
    """A tape reading as typed."""

    typed: Typed
    mode: TapeMode = TapeMode.SURFACE


@with_facts(WindowFacts, partial=True)
class WindowPatch(Body):
    """Changes of a window; only what is sent is changed. A reading set to null is taken out."""

    version: Version
    label: Words | None = None
    layers: Annotated[list[Id], Field(max_length=4)] | None = None
    film_id: Id | None = None
    curve: Curve | None = None
    level: Level | None = None
    figure: Figure | None = None
    readings: Annotated[dict[str, ReadingIn | None], Field(max_length=80)] | None = None
    same_as_id: Id | None = None
    same_as_mirrored: bool | None = None


@with_facts(WindowFacts)
class WindowCreate(Body):
    """A further window, put last in the walkaround order."""

    label: Words
    curve: Curve = Curve.FLAT
    figure: Figure = Figure.FOUR
    same_as_id: Id | None = None
    same_as_mirrored: bool = False
