"""Medical exemptions as papers tell them: quote and certificate alike."""

from __future__ import annotations

from elumbra.core.work import Car, ReasonKind, reason_words
from elumbra.documents.sheet import Block, Heading, Words


def exemption_blocks(car: Car) -> list[Block]:
    """The medical exemptions on file, each with the windows that it was applied to."""
    windows: dict[str, list[str]] = {}
    for one in car.job.windows:
        reason = one.reason
        if reason and reason.kind is ReasonKind.MEDICAL_EXEMPTION and reason.film_id == one.film_id:
            windows.setdefault(reason_words(reason), []).append(one.label)
    if not windows:
        return []
    told = [Words(f"{', '.join(labels)}: {words}.") for words, labels in windows.items()]
    return [Heading("Medical exemption"), *told]
