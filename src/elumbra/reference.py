"""Reference pages made from the code, and compared with it in the tests."""

from __future__ import annotations

import json
from collections.abc import Iterator, Set
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from elumbra.api.app import BLUEPRINTS, AppConfig, make_app
from elumbra.api.base.refusals import STATUS_OF
from elumbra.api.base.roles import ANYBODY, Role
from elumbra.api.car_view.deeds import BY_BUTTON
from elumbra.core.glass import Position, WindowKind
from elumbra.core.law import (
    HELP,
    Jurisdiction,
    LawBook,
    LawReading,
    VehicleClass,
    VerdictWord,
    Word,
    clauses_for,
    dispute_words,
    field_paths,
    words_in,
)
from elumbra.core.practice import RULES
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, Group, ReadBy
from elumbra.core.words import WORDS, asked_specs, finding_specs, reading_labels
from elumbra.documents.job_file import JobFile
from elumbra.documents.plan import PlanDocument
from elumbra.documents.shelf import ShelfFile
from elumbra.reference_runs import runs_page
from elumbra.storage.data_files import law_file, starting_values, step_book
from elumbra.storage.database import Database

FRONT_END_WORDS = Path(__file__).resolve().parents[2] / "frontend" / "src" / "api" / "words.ts"


class _NoTasks:
    def wake(self) -> None:
        """Nothing is ever queued here."""


def reference_pages() -> dict[str, str]:
    """Content of every generated page, by file name."""
    return {
        "openapi.json": _json(_openapi()),
        "job-file.schema.json": _json(JobFile.model_json_schema()),
        "shelf-file.schema.json": _json(ShelfFile.model_json_schema()),
        "findings.md": _findings(),
        "plan.schema.json": _json(PlanDocument.model_json_schema()),
        "starting-values.md": _starting_values(),
        "error-codes.md": _error_codes(),
        "law-records.md": _law_records(),
        "law-report.md": _law_report(),
        "law-vocabulary.md": _law_vocabulary(),
        "runs.md": runs_page(step_book()),
        "practice-rules.md": _practice_rules(),
        "roles.md": _roles(),
    }


def front_end_words() -> str:
    """The front end's copy of the trade's words: what can be chosen, read and asked, and worst-first order."""
    words = {kind.__name__: {one.value: said for one, said in told.items()} for kind, told in WORDS.items()}
    parts = [
        ("WORDS", words),
        ("READING_LABELS", reading_labels()),
        ("ASKED_FACTS", asked_specs()),
        ("WINDOW_FINDINGS", finding_specs(WINDOW_FINDINGS)),
        ("CAR_FINDINGS", finding_specs(CAR_FINDINGS)),
        ("VERDICT_WORDS", [word.value for word in VerdictWord]),
    ]
    head = "// Made from the core's words by ./elumbra docs; not to be changed by hand.\n"
    lines = [
        f"export const {name} = {json.dumps(value, indent=2, ensure_ascii=False)} as const;\n" for name, value in parts
    ]
    return head + "\n".join(lines)


def write_reference(folder: Path) -> None:
    """Write all pages, and the front end's words beside its API types."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in reference_pages().items():
        (folder / name).write_text(content, encoding="utf-8")
    FRONT_END_WORDS.write_text(front_end_words(), encoding="utf-8")


def _json(document: object) -> str:
    return json.dumps(document, indent=2, ensure_ascii=False, sort_keys=True) + "\n"


@contextmanager
def _application() -> Iterator[Any]:
    """The whole application over no data."""
    with TemporaryDirectory() as folder:
        database = Database(Path(folder) / "none.db")
        yield make_app(AppConfig(database, _NoTasks(), b"reference"))
        database.close()


def _openapi() -> object:
    for blueprint in BLUEPRINTS:
        blueprint.describe()
    with _application() as app:
        spec: dict[str, Any] = dict(app.api_doc)
    # The signed cookie that says who acts; writes carry an id of their own besides (docs/guide/architecture.md).
    cookie = {"type": "apiKey", "in": "cookie", "name": "session"}
    return spec | {"components": {**spec["components"], "securitySchemes": {"person": cookie}}}


def _roles() -> str:
    """Who may do what: deeds by their buttons, then every call of the API."""
    columns = list(Role)

    def marks(roles: Set[Role]) -> list[str]:
        return ["yes" if role in roles else "" for role in columns]

    deeds = [[deed.value.replace("_", " "), *marks(roles)] for deed, roles in BY_BUTTON.items()]
    calls = []
    with _application() as app:
        for rule in app.url_map.iter_rules():
            view = app.view_functions[rule.endpoint]
            roles = getattr(view, "__elumbra_roles__", None)
            if roles is None:
                continue
            (method,) = set(rule.methods or ()) - {"HEAD", "OPTIONS"}
            what = (view.__doc__ or "").strip().splitlines()[0]
            said = ["before anybody said who he is", "", "", "", ""] if roles == ANYBODY else marks(roles)
            calls.append([f"`{method} {rule.rule}`", what, *said, "yes" if view.__elumbra_money__ else ""])
    head = [role.value for role in columns]
    words = "From the declarations at each deed and each call. *Money*: kept from who does not see prices."
    return "\n".join(
        [
            "# Who may do what", "", words, "", "## Deeds", "", *_table(["deed", *head], deeds), "",
            "A car is booked on the day sheet and delivered at Handover; those calls are in the table below.", "",
            "## Calls", "", *_table(["call", "what", *head, "money"], sorted(calls)), "",
        ]
    )  # fmt: skip


def _starting_values() -> str:
    values = starting_values()
    head = ["name", "figure", "value", "unit", "range", "basis"]
    rows = [
        [f"`{v.name}`", v.label, f"{v.value:g}", v.unit, f"{v.low:g} to {v.high:g}", v.basis]
        for v in values.values.values()
    ]
    return _page(f"Starting values, version {values.version}", "Each can be changed by the shop.", head, rows)


def _findings() -> str:
    rows = []
    for one in (*WINDOW_FINDINGS.values(), *CAR_FINDINGS.values()):
        kinds = "all" if one.kinds is None else ", ".join(sorted(WORDS[WindowKind][kind] for kind in one.kinds))
        kinds = "the car" if one.group is Group.CAR else kinds
        answers = ", ".join(one.options.values()) or ("a fact of the window" if one.of_fact else one.how.value)
        rows.append([f"`{one.name}`", one.label, kinds, answers, "", "", ""])
        for answer, what in one.follows.items():
            told = what.words + (f" ({what.tool})" if what.tool else "") + (f" {what.caution}" if what.caution else "")
            cost = f"{what.minutes:g} min" if what.minutes else ""
            cost += f", ${what.dollars:g}" if what.dollars else ""
            when = one.options.get(answer, answer) or "any"
            rows.append(["", "", "", when, told, cost, f"{WORDS[ReadBy][what.read_by]}; handbook {what.section}"])
    head = ["finding", "label", "asked of", "answer", "what it changes", "costs", "read by"]
    return _page("Findings of the survey", "Declared in `core/survey/table.py`, and nowhere else.", head, rows)


def _page(title: str, words: str, head: list[str], rows: list[list[str]]) -> str:
    return "\n".join([f"# {title}", "", words, "", *_table(head, rows)]) + "\n"


def _table(head: list[str], rows: list[list[str]]) -> list[str]:
    return [f"| {' | '.join(cells)} |" for cells in [head, ["---"] * len(head), *rows]]


def _error_codes() -> str:
    words = "Every refusal has one shape: `code`, `message`, `fields`; a stale write adds `changed` and `version`."
    rows = [[f"`{code}`", str(status)] for code, status in sorted(STATUS_OF.items())]
    return _page("Error codes", words, ["code", "status"], rows)


def _practice_rules() -> str:
    words = (
        "What goes wrong under a hand on the practice glass. The first rule that speaks for a place names its cause; "
        "every damage costs the piece, or its glass."
    )
    rows = [
        [f"`{rule.name}`", (rule.damage.name or "").lower(), rule.words, rule.instead, rule.source] for rule in RULES
    ]
    return _page("Rules of the practice glass", words, ["rule", "leaves", "said", "instead", "source"], rows)


def _all_law() -> LawBook:
    """The shipped law with everything that ever comes into force."""
    return law_file().on("9999-12-31")


def _law_records() -> str:
    law = _all_law()
    words = (
        "From memory, not checked against the statutes: a starting set, not legal advice. "
        "`?` marks a field nobody has confirmed."
    )
    head = ["state", "class", "front side", "rear side", "rear window", "statute", "linked clauses", "confidence"]
    rows = [
        [
            record.code,
            vehicle_class.value,
            *_floor_cells(record, vehicle_class),
            record.statute,
            str(sum(vehicle_class in clause.classes for clause in record.clauses)),
            record.confidence,
        ]
        for record in law.records.values()
        for vehicle_class in VehicleClass
    ]
    return _page(f"Law on file, version {law.version}", words, head, rows)


def _law_vocabulary() -> str:
    words = (
        "A linked clause of a law file has an `id`, a `role` (`also`: besides the table's rule; `instead`: keeping "
        "this is enough; `replaces`: in its place; `scope`: without it the section does not speak of the vehicle), the "
        "`classes` and `positions` it is about, `on` strip or glass, a `sentence`, a `citation`, the fields it "
        "`rests_on`, and a `condition` made of these words and no others. An unknown word is refused with the nearest "
        "known one."
    )
    rows = [[f"`{word.value}`", HELP[word][0], f"`{json.dumps({word.value: HELP[word][1]})}`"] for word in Word]
    return _page("The words of the law file", words, ["word", "means", "example"], rows)


def _law_report() -> str:
    """What was made of the compiled notes: clauses, disputes, doubts, and what stays a note."""
    law = _all_law()
    records = list(law.records.values())
    used = {word for record in records for clause in record.clauses for word in words_in(clause.condition)}
    fields = sum(len(field_paths(record)) for record in records)
    doubtful = sum(len(record.unconfirmed.intersection(field_paths(record))) for record in records)
    clauses = [clause for record in records for clause in record.clauses]
    summary = (
        f"{len(records)} jurisdictions, {fields} fields that can be confirmed one by one, {doubtful} of them "
        f"unconfirmed. {len(clauses)} linked clauses in "
        f"{sum(bool(record.clauses) for record in records)} jurisdictions, written with the words "
        f"{', '.join(f'`{word.value}`' for word in Word if word in used)}."
    )
    rest = (
        "The rest of each record's notes stays a note on its page in the rule book: it says nothing that changes an "
        "answer for film put on now, or nothing that the vocabulary can hold (fines, inspection days, holographic "
        "film, what is carried in the vehicle)."
    )
    lines = [f"# Field report of the law file, version {law.version}", "", summary, "", rest, ""]
    lines += ["## Notes that became clauses", ""]
    cells = [
        [record.code, clause.role.value, clause.sentence, ", ".join(sorted(words_in(clause.condition)))]
        for record in records
        for clause in record.clauses
    ]
    lines += _table(["state", "role", "the rule", "words"], cells)
    lines += ["", "## Fields and strips that say more than the compiled set did", ""]
    lines += _table(["state", "what"], [[record.code, words] for record in records for words in _sharpened(record)])
    lines += ["", "## Readings of the law that somebody must settle", ""]
    lines += _table(
        ["state", "question", "until it is settled"],
        [
            [record.code, reading.question, _meanwhile(reading)]
            for record in records
            for reading in record.readings.values()
        ],
    )
    lines += ["", "## Disputed: two compilations differed, the stricter stands", ""]
    lines += _table(
        ["state", "field", "both"],
        [
            [record.code, dispute.field, " / ".join(dispute_words(value) for value in dispute.values)]
            for record in records
            for _, dispute in sorted(record.disputes.items())
        ],
    )
    lines += ["", "## Unsure", ""]
    lines += _table(
        ["state", "confidence", "unconfirmed fields", "of"],
        [
            [
                record.code,
                record.confidence,
                str(len(record.unconfirmed.intersection(field_paths(record)))),
                str(len(field_paths(record))),
            ]
            for record in records
        ],
    )
    return "\n".join(lines) + "\n"


def _meanwhile(reading: LawReading) -> str:
    if reading.until_settled is None:
        return "cannot tell"
    return "yes, the stricter" if reading.until_settled else "no, the stricter"


def _sharpened(record: Jurisdiction) -> list[str]:
    found = []
    for vehicle_class in VehicleClass:
        strip = record.windshield[vehicle_class].strip.value
        if strip in ("longer", "shorter", "as1_else_inches", "seat_height", "as_below"):
            rule = clauses_for(record, vehicle_class, Position.WINDSHIELD, strip=True)[0]
            found.append(f"{vehicle_class.value}: {rule.sentence}")
    if record.banned_on_windshield_only:
        found.append("The colour ban holds on the windshield only.")
    if record.reflectance_of == "window":
        found.append("Reflection is measured on glass and film together.")
    if record.reflectance_of == "either":
        found.append("Reflection is held against the film's own figure and that of glass and film.")
    if record.mirrors_else is not None:
        found.append(f"The rear window needs no mirrors from {100 * record.mirrors_else:g} %.")
    return found


def _floor_cells(record: Jurisdiction, vehicle_class: VehicleClass) -> list[str]:
    cells = []
    for (of_class, position), floor in record.floors.items():
        if of_class is vehicle_class:
            doubt = " ?" if f"{of_class.value}.{position.value}" in record.unconfirmed else ""
            value = f"{100 * floor.value:g} %" if floor.value is not None else floor.kind.value.replace("_", " ")
            cells.append(value + doubt)
    return cells
