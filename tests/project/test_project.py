"""What must hold for the project as a whole: contracts, generated files, documents, budgets."""

import ast
import importlib
import json
import re
import shutil
import subprocess
from pathlib import Path

import pytest
from pydantic import BaseModel

from elumbra.api.base.refusals import STATUS_OF
from elumbra.core.words import asked_specs
from elumbra.reference import FRONT_END_WORDS, front_end_words, reference_pages
from elumbra.storage.data_files import bodies, law_file

ROOT = Path(__file__).resolve().parents[2]
SOURCE = ROOT / "src" / "elumbra"
CORE = SOURCE / "core"
PACKAGES = sorted(path.parent.name for path in CORE.glob("*/__init__.py"))
LONGEST_MODULE = 420
LONGEST_FUNCTION = 60
LONGEST_COMPONENT = 310


@pytest.mark.parametrize("name", sorted(reference_pages()))
def test_generated_reference_is_up_to_date(name: str) -> None:
    written = (ROOT / "docs" / "reference" / name).read_text(encoding="utf-8")
    assert written == reference_pages()[name], "run ./elumbra docs"


def test_front_end_words_are_the_core_s() -> None:
    assert FRONT_END_WORDS.read_text(encoding="utf-8") == front_end_words(), "run ./elumbra docs"


def test_no_two_models_of_the_api_share_a_name() -> None:
    """In the OpenAPI document one would silently take the other's place."""
    from elumbra.api.app import BLUEPRINTS

    assert BLUEPRINTS
    models: dict[str, set[str]] = {}
    waiting = [BaseModel]
    while waiting:
        for model in waiting.pop().__subclasses__():
            waiting.append(model)
            if model.__module__.startswith(("elumbra.api", "elumbra.documents")):
                models.setdefault(model.__name__, set()).add(model.__module__)
    private = {name for name in models if name.startswith("_")}
    assert {name: places for name, places in models.items() if len(places) > 1 and name not in private} == {}


def test_api_types_are_generated_from_the_openapi_document(tmp_path: Path) -> None:
    front = ROOT / "frontend"
    tool = front / "node_modules" / ".bin" / "openapi-typescript"
    if not tool.exists() or shutil.which("node") is None:
        pytest.fail("the front end is not set up: run ./elumbra test")
    made = tmp_path / "schema.d.ts"
    subprocess.run(
        [tool, "../docs/reference/openapi.json", "--default-non-nullable=false", "-o", made],
        cwd=front, check=True, capture_output=True,
    )  # fmt: skip
    assert made.read_text() == (front / "src" / "api" / "schema.d.ts").read_text(), "run ./elumbra docs"


@pytest.mark.parametrize("package", PACKAGES)
def test_core_package_exports_what_it_says(package: str) -> None:
    module = importlib.import_module(f"elumbra.core.{package}")
    exported = module.__all__
    assert exported == sorted(exported, key=lambda name: (not name.isupper(), name)), "constants first"
    assert all(hasattr(module, name) for name in exported)
    assert all((getattr(module, name).__doc__ or "").strip() for name in exported if callable(getattr(module, name)))


@pytest.mark.parametrize("path", sorted(CORE.rglob("*.py")), ids=lambda path: str(path.relative_to(CORE)))
def test_core_opens_prints_and_asks_the_clock_for_nothing(path: Path) -> None:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    called = {node.func.id for node in ast.walk(tree) if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    assert not called & {"open", "print", "input", "eval", "exec"}


SOURCES = sorted(path for path in SOURCE.rglob("*.py") if "migrations/versions" not in str(path))
PARTS = sorted(
    path
    for path in (ROOT / "frontend" / "src").rglob("*.ts*")
    if path.name not in ("schema.d.ts", "words.ts") and ".test." not in path.name
)


@pytest.mark.parametrize("path", SOURCES, ids=lambda path: str(path.relative_to(SOURCE)))
def test_modules_and_functions_are_short_enough_to_read(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    assert len(text.splitlines()) <= LONGEST_MODULE
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef):
            assert (node.end_lineno or 0) - node.lineno <= LONGEST_FUNCTION, node.name


@pytest.mark.parametrize("path", PARTS, ids=lambda path: path.name)
def test_component_files_are_short_enough_to_read(path: Path) -> None:
    lines = path.read_text(encoding="utf-8").splitlines()
    assert len(lines) <= LONGEST_COMPONENT, "several components in one file: split it"


CARRIERS = ("documents/", "storage/", "car/", "schemas.py", "api/car_view/", "api/exchange/")
MOST_FILES = 8


def files_naming(word: str) -> list[str]:
    """Source files in which a fact is named, generated ones and migrations aside."""
    front = ROOT / "frontend" / "src"
    return [str(path.relative_to(ROOT)) for path in [*SOURCES, *front.rglob("*.ts*")]
            if path.name not in ("schema.d.ts", "words.ts")
            and re.search(rf"\b{word}\b", path.read_text(encoding="utf-8"))]  # fmt: skip


@pytest.mark.parametrize("spec", asked_specs(), ids=lambda spec: spec["name"])
def test_a_finding_is_declared_once_and_carried_by_no_line(spec: dict[str, str]) -> None:
    """docs/guide/adding-a-finding.md: the declaration, the rules that use it, and nothing between."""
    if spec["name"] in ("kind", "position"):
        return  # words that mean much else besides
    named = files_naming(spec["name"])
    assert "src/elumbra/core/work/facts.py" in named
    assert [path for path in named if any(carrier in path for carrier in CARRIERS)] == []
    assert len(named) <= MOST_FILES, named


def test_every_error_code_raised_is_in_the_table() -> None:
    raised = set()
    for path in SOURCE.rglob("*.py"):
        raised |= set(re.findall(r'ApiError\(\s*"(\w+)"', path.read_text(encoding="utf-8")))
        raised |= set(re.findall(r'ErrorBody\(\s*code="(\w+)"', path.read_text(encoding="utf-8")))
    assert raised <= set(STATUS_OF)


def test_pictures_are_few_and_linked_from_the_readme() -> None:
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 5 <= len(pictures) < 20
    assert [picture.name for picture in pictures if picture.name not in readme] == []


def test_documents_link_to_what_is_there() -> None:
    for page in [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))]:
        for target in re.findall(r"\]\(([^)#]+)\)", page.read_text(encoding="utf-8")):
            if not target.startswith("http"):
                assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_commands_of_the_script_are_in_the_readme() -> None:
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    for command in ("demo", "serve", "plan", "backup", "restore", "test", "bench", "shots", "docs"):
        assert f"./elumbra {command}" in readme


def test_lock_files_name_no_host_and_pin_everything() -> None:
    lock = (ROOT / "requirements.lock").read_text(encoding="utf-8")
    packages = json.loads((ROOT / "frontend" / "package-lock.json").read_text(encoding="utf-8"))["packages"]
    assert "http" not in lock
    assert all(re.match(r"^[\w.-]+==\S+ \\$", line) for line in lock.splitlines() if re.match(r"^\w", line))
    assert [name for name, entry in packages.items() if "resolved" in entry] == []
    pinned = json.loads((ROOT / "frontend" / "package.json").read_text(encoding="utf-8"))
    for version in {**pinned["dependencies"], **pinned["devDependencies"]}.values():
        assert re.match(r"^\d", version)


def test_law_notes_with_linked_words_have_linked_rules() -> None:
    """A record whose notes say that a limit depends on something must ask for it."""
    must_ask = {"IL", "CO", "CA", "OR", "NY", "MN", "AR", "NC", "WA"}
    assert {code for code, record in law_file().on("9999-12-31").records.items() if record.clauses} >= must_ask


def test_body_styles_refer_to_their_own_windows() -> None:
    for style in bodies().values():
        keys = [window["key"] for window in style["windows"]]
        assert len(keys) == len(set(keys))
        assert all(window.get("same_as", keys[0]) in keys for window in style["windows"])
