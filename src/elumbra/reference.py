"""Reference pages made from the code, and compared with it in the tests."""

from __future__ import annotations

import json
from pathlib import Path
from tempfile import TemporaryDirectory

from elumbra.api.app import AppConfig, make_app
from elumbra.api.errors import STATUS_OF
from elumbra.core.law import Jurisdiction, VehicleClass
from elumbra.documents.job_file import JobFile
from elumbra.documents.plan import PlanDocument
from elumbra.storage.data_files import law_book, starting_values
from elumbra.storage.database import Database


class _NoSolver:
    def wake(self) -> None:
        """Nothing is ever queued here."""


def reference_pages() -> dict[str, str]:
    """Content of every generated page, by file name."""
    return {
        "openapi.json": _json(_openapi()),
        "job-file.schema.json": _json(JobFile.model_json_schema()),
        "plan.schema.json": _json(PlanDocument.model_json_schema()),
        "starting-values.md": _starting_values(),
        "error-codes.md": _error_codes(),
        "law-records.md": _law_records(),
    }


def write_reference(folder: Path) -> None:
    """Write all pages."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in reference_pages().items():
        (folder / name).write_text(content, encoding="utf-8")


def _json(document: object) -> str:
    return json.dumps(document, indent=2, ensure_ascii=False, sort_keys=True) + "\n"


def _openapi() -> object:
    with TemporaryDirectory() as folder:
        database = Database(Path(folder) / "none.db")
        app = make_app(AppConfig(database, _NoSolver(), b"reference"))
        spec = app.api_doc
        database.close()
    return spec


def _starting_values() -> str:
    values = starting_values()
    head = ["name", "figure", "value", "unit", "range", "basis"]
    rows = [
        [f"`{v.name}`", v.label, f"{v.value:g}", v.unit, f"{v.low:g} to {v.high:g}", v.basis]
        for v in values.values.values()
    ]
    return _page(f"Starting values, version {values.version}", "Each can be changed by the shop.", head, rows)


def _page(title: str, words: str, head: list[str], rows: list[list[str]]) -> str:
    lines = [f"# {title}", "", words, ""]
    lines += [f"| {' | '.join(cells)} |" for cells in [head, ["---"] * len(head), *rows]]
    return "\n".join(lines) + "\n"


def _error_codes() -> str:
    words = "Every refusal has one shape: `code`, `message`, `fields`; a stale write adds `changed` and `version`."
    rows = [[f"`{code}`", str(status)] for code, status in sorted(STATUS_OF.items())]
    return _page("Error codes", words, ["code", "status"], rows)


def _law_records() -> str:
    law = law_book()
    words = (
        "From memory, not checked against the statutes: a starting set, not legal advice. "
        "`?` marks a field nobody has confirmed."
    )
    head = ["state", "class", "front side", "rear side", "rear window", "statute", "linked rules", "confidence"]
    rows = [
        [
            record.code,
            vehicle_class.value,
            *_floor_cells(record, vehicle_class),
            record.statute,
            str(sum(vehicle_class in rule.classes for rule in record.linked)),
            record.confidence,
        ]
        for record in law.records.values()
        for vehicle_class in VehicleClass
    ]
    return _page(f"Law on file, version {law.version}", words, head, rows)


def _floor_cells(record: Jurisdiction, vehicle_class: VehicleClass) -> list[str]:
    cells = []
    for (of_class, position), floor in record.floors.items():
        if of_class is vehicle_class:
            doubt = " ?" if f"{of_class.value}.{position.value}" in record.unconfirmed else ""
            value = f"{100 * floor.value:g} %" if floor.value is not None else floor.kind.value.replace("_", " ")
            cells.append(value + doubt)
    return cells
