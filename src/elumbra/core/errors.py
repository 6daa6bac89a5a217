"""Everything the core can refuse.

    CoreError (ValueError)
    ├── LengthError            a size that is not a length on a tape
    ├── ReadingError           readings that no pane can have, by reading
    ├── FilmError              film data that cannot be, by field
    ├── LawError               a law file that cannot be used
    ├── StartingValueError     an unknown or out-of-range starting value
    └── LayoutError            a layout that breaks the rules of cutting

A broken rule (a film too dark, a piece that fits no roll) is a result, never an exception.
"""

from __future__ import annotations

from collections.abc import Mapping


class CoreError(ValueError):
    """Base of all refusals. ``fields`` maps a field's name to the sentence shown beside it."""

    def __init__(self, message: str, *, fields: Mapping[str, str] | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.fields: dict[str, str] = dict(fields or {})


class LengthError(CoreError):
    """The text is not a length."""


class ReadingError(CoreError):
    """Readings that no pane of glass can have; ``fields`` is keyed by reading."""


class FilmError(CoreError):
    """Film data that cannot be; ``fields`` is keyed by film field."""


class LawError(CoreError):
    """A law file that cannot be used as it stands."""


class StartingValueError(CoreError):
    """A starting value that is unknown or out of its stated range."""


class LayoutError(CoreError):
    """A layout that breaks a rule of cutting; ``fields`` is keyed by piece or stock."""
