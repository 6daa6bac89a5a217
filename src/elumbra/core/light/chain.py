"""Light through the whole chain, face by face: what passes, and what comes back either way.

::

    outside  │ face │ glass bulk │ film with its cabin face │  inside

Each part is an element with one transmittance (the same both ways) and a reflectance seen
from either side. Light bounces between parts without interfering: glass is many wave
lengths thick, so intensities add. Two parts in a row, a outside b::

    T     = Ta Tb / (1 - Ra_in Rb_out)
    R_out = Ra_out + Ta² Rb_out / (1 - Ra_in Rb_out)

A film's own element is fitted so that on its reference glass it gives back its sheet's
transmittance and reflectance exactly. The judged figure stays the bonded formula; the chain
gives reflectance, looks, and a check that the bonded formula is near.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

from elumbra.core.film import Film, VltBasis
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class Element:
    """A part of the chain: fractions of the light that falls on it."""

    through: float
    back_outside: float  # reflectance seen from outdoors
    back_inside: float  # reflectance seen from the cabin

    @property
    def absorbed(self) -> float:
        """What neither passes nor comes back, light from outdoors."""
        return 1 - self.through - self.back_outside


def stack(outer: Element, inner: Element) -> Element:
    """Two parts in contact, light bouncing between them.

    Examples
    --------
    >>> half = Element(0.5, 0.0, 0.0)
    >>> stack(half, half)
    Element(through=0.25, back_outside=0.0, back_inside=0.0)
    """
    bounce = 1 - outer.back_inside * inner.back_outside
    return Element(
        outer.through * inner.through / bounce,
        outer.back_outside + outer.through**2 * inner.back_outside / bounce,
        inner.back_inside + inner.through**2 * outer.back_inside / bounce,
    )


def _face(r: float) -> Element:
    """One face between air and glass or film."""
    return Element(1 - r, r, r)


def _bulk(vlt: float, r: float) -> Element:
    """The inside of a pane whose two faces and bulk pass ``vlt`` together.

    From T = (1-r)² t / (1 - r² t²), solved for t; clear glass that passes more than its two
    faces let through has a bulk of 1.
    """
    faces = (1 - r) ** 2
    t = 2 * vlt / (faces + sqrt(faces**2 + (2 * r * vlt) ** 2))
    return Element(min(1.0, t), 0.0, 0.0)


@dataclass(frozen=True)
class _Faces:
    """What the fit depends on besides the film, as a key of the cache."""

    face: float
    reference: float

    @classmethod
    def of(cls, starting: StartingValues) -> _Faces:
        return cls(starting["interface_reflectance"], starting["reference_glass_vlt"])


def fit_film(film: Film, *, starting: StartingValues) -> Element:
    """A film with its cabin face, fitted to its sheet.

    Where the sheet states no reflectance, the film is taken to reflect like a clear face.
    A sheet of unknown basis is read as on 3 mm clear glass.
    """
    return _fitted(film, _Faces.of(starting))


def overdrawn(film: Film, *, starting: StartingValues) -> bool:
    """Whether a sheet passes and gives back more than the film itself can, so that its fit is cut back."""
    fitted = _as_stated(film, _Faces.of(starting))
    return _kept_whole(fitted) != fitted


@lru_cache(maxsize=1024)
def _fitted(film: Film, faces: _Faces) -> Element:
    return _kept_whole(_as_stated(film, faces))


def _as_stated(film: Film, faces: _Faces) -> Element:
    """The element that gives back the sheet's figures exactly, be it one that cannot be."""
    face = _face(faces.face)
    base = face if film.vlt_basis is VltBasis.FILM_ALONE else stack(face, _bulk(faces.reference, faces.face))
    vlt = film.lot.vlt if film.lot else film.vlt
    if film.reflectance is None:
        back = face.back_outside
    else:
        quotient = (film.reflectance - base.back_outside) / base.through**2
        back = quotient / (1 + quotient * base.back_inside)
    bounce = 1 - base.back_inside * back
    through = vlt * bounce / base.through
    inside = film.reflectance if film.reflectance_inside is None else film.reflectance_inside
    toward_cabin = back if inside is None else inside - through**2 * base.back_inside / bounce
    return Element(through, back, toward_cabin)


def _kept_whole(fitted: Element) -> Element:
    """A film's element that gives no light of its own: what comes back stands, what passes gives way.

    A sheet's figures can leave less than nothing for the film itself once the glass they were measured on is taken
    off, near 100 % of light passed and given back together.
    """
    back, inside = (min(1.0, max(0.0, share)) for share in (fitted.back_outside, fitted.back_inside))
    return Element(max(0.0, min(fitted.through, 1 - back, 1 - inside)), back, inside)


def _without_cabin_face(fitted: Element, r: float) -> Element:
    """The film's own layer, its face to the cabin taken off, for a film that lies under another.

    The layer is taken to reflect alike on both sides, which makes the fit linear.
    """
    bare = fitted.through**2 / (1 - r) ** 2
    own = (fitted.back_outside - bare * r) / (1 - bare * r**2)
    return _kept_whole(Element(fitted.through * (1 - own * r) / (1 - r), own, own))


def chain(glass_vlt: float, films: Sequence[Film], *, starting: StartingValues) -> Element:
    """A pane with bonded films, outermost film first; none for bare glass.

    Parameters
    ----------
    glass_vlt
        What the bare pane passes, 0 to 1.
    films
        Films from the glass toward the cabin.
    starting
        Reflectance of one face, reference glass.
    """
    return _chained(glass_vlt, tuple(films), _Faces.of(starting))


@lru_cache(maxsize=4096)
def _chained(glass_vlt: float, films: tuple[Film, ...], faces: _Faces) -> Element:
    built = stack(_face(faces.face), _bulk(glass_vlt, faces.face))
    if not films:
        return stack(built, _face(faces.face))
    for under in films[:-1]:
        built = stack(built, _without_cabin_face(_fitted(under, faces), faces.face))
    return stack(built, _fitted(films[-1], faces))


def two_panes(outer: Element, inner: Element) -> float:
    """What passes two separate panes with air between: T1 T2 / (1 - R1 R2).

    Only for panes that do not touch; bonded film has no such gap.
    """
    return stack(outer, inner).through


def bare_glass_reflectance(*, starting: StartingValues) -> float:
    """What clear glass with nothing on it gives back: both faces, 2r / (1 + r)."""
    r = starting["interface_reflectance"]
    return 2 * r / (1 + r)
