"""Bounds that facts declare beside their type, so that whoever reads them in can hold them.

The core itself does not check these: what comes in from a file, a screen or a database does.
"""

from __future__ import annotations

from typing import Annotated

from annotated_types import Ge, Le, Len

Percent = Annotated[float, Ge(0), Le(100)]
Name = Annotated[str, Len(1, 120)]
Identifier = Annotated[str, Len(1, 64)]
