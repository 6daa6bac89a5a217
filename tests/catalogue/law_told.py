"""All that the law says over the verdict table, word for word: ``law_told.txt``, read by people, compared by a test.

``python -m tests.catalogue.law_told`` writes it again after sentences were changed on purpose; read the difference.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from elumbra.core.law import Verdict
from tests.catalogue.law import CLASSES, POSITIONS, Row, rows, verdict

FILE = Path(__file__).with_name("law_told.txt")
# Situations beside the table's: what a sentence says only there.
MORE = [
    ("FL", "P", "FS", "net 27.97"), ("FL", "P", "FS", "net 28"), ("FL", "P", "FS", "net ?, alone 20"),
    ("CO", "P", "RS", "net 20, windshield ?"), ("CO", "P", "RS", "net 20, fronts ?"), ("IL", "P", "FS", "net 60, rears ?"),
    ("IL", "P", "FS", "net 60, rears 20 filmed factory, fronts 60 filmed"), ("TN", "M", "RS", "net 10, factory no"),
    ("AL", "M", "RS", "net 3, persons 11, chassis yes"), ("AL", "M", "RS", "net 3, persons 5, chassis no, off-road no"),
    ("AL", "M", "RS", "net 3, persons 5"), ("AL", "M", "RS", "net 3, chassis yes"), ("AL", "M", "RS", "net 3"),
    ("AL", "M", "RS", "net 3, persons 5, chassis no"), ("AL", "M", "RS", "net 3, persons 5, off-road yes"),
    ("AR", "P", "FS", "net 40, year 1994"), ("MD", "M", "RS", "net 10, registered sedan"),
    ("MD", "M", "RS", "net 10, registered suv"), ("MD", "M", "RS", "net 10, registered station_wagon"),
    ("FL", "P", "WS", "strip 5, as1 5 1/4"), ("FL", "P", "WS", "strip 5, as1 4"), ("FL", "P", "WS", "strip 5, as1 none"),
    ("AZ", "P", "WS", "strip 4, seat 30"), ("AZ", "P", "WS", "strip 4, seat 20"), ("AZ", "P", "WS", "strip 4, seat 28 63/64"),
    ("FL", "P", "FS", "net 40, reflects 30"), ("FL", "P", "FS", "net 40, metal"), ("IL", "P", "RS", "net 60, metal, mirror no"),
    ("IL", "P", "RS", "net 60, metal, reflects ?"), ("IL", "P", "RS", "net 60, reflects ?"), ("IL", "P", "RS", "net 60, reflects 40"),
    ("IL", "P", "FS", "net 60, mirror finish"), ("IL", "P", "FS", "net 60, reflects 40"), ("AK", "P", "RS", "net 60, colour ?"),
    ("AZ", "P", "RS", "net 60, mirrors no"), ("AZ", "P", "RS", "net 5, mirrors no"), ("AZ", "P", "RS", "net 5, mirrors ?"),
    ("OR", "P", "FS", "net 60, alone 40"), ("OR", "P", "FS", "net 60, layers 2"), ("IN", "M", "RS", "net 5"),
]  # fmt: skip


def situations() -> list[Row]:
    """The table's rows and the further ones."""
    more = [Row(0, state, CLASSES[c], POSITIONS[p], words, "", "") for state, c, p, words in MORE]
    return [*rows(), *more]


def told() -> list[str]:
    """First each verdict with its sentence, then, once each, every clause and what was ever found of it."""
    lines: list[str] = []
    clauses: dict[str, None] = {}
    for row in situations():
        found = verdict(row.state, row.vehicle_class, row.position, row.situation)
        place = f"{row.state} {row.vehicle_class.value} {row.position.value}"
        lines += [f"{place} | {row.situation}", *(f"    {line}" for line in _verdict(found))]
        for clause in found.clauses:
            clauses[
                f"{place.split()[0]} {clause.id}: {clause.sentence} [{clause.citation}] {', '.join(clause.unconfirmed)}"
            ] = None
            clauses[f"    {clause.state.value}{', close' if clause.close else ''}: {clause.found}"] = None
    return [*lines, "", *sorted(clauses)]


def _verdict(found: Verdict) -> Iterator[str]:
    light = "" if found.light is None else f" ({100 * found.light.vlt:.2f} / {100 * found.light.limit:.2f})"
    yield f"{found.word.value}{light}: {found.sentence}"
    yield f"[{found.citation}] hangs on {', '.join(found.deciding) or 'nothing unconfirmed'}"
    yield f"unconfirmed {', '.join(found.unconfirmed)}; {found.tolerance_points or 0:g} points"
    for one in found.questions:
        where = " ".join(filter(None, (one.window_id, one.position or "", one.law_field, one.film_id, one.fact)))
        yield f"? {one.asks.value} {where}: {one.text}"


if __name__ == "__main__":
    FILE.write_text("\n".join(told()) + "\n", "utf-8")
