"""Mutation testing: change one thing in the code at a time, and see that a test fails.

``./elumbra mutate [PACKAGE ...]`` runs it. Each package has a work folder of its own under ``.mutants``, which mutmut
fills with the code, all its mutants and the tests. What was killed stays killed while its function is unchanged, so a
run can be stopped and taken up again; what is alive is tried again when a test has changed. ``--fresh`` begins anew;
``--report`` only tells how things stand.

At the end ``docs/mutants.md`` is written: the counts, and every mutant alive with the reason in ``alive.json``.
"""

from __future__ import annotations

import hashlib
import json
import os
import re
import shutil
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
WORK = ROOT / ".mutants"
REASONS = Path(__file__).with_name("alive.json")
REPORT = ROOT / "docs" / "mutants.md"
MOST_ALIVE = 0.05  # share of a package's mutants, outside its strict modules


@dataclass(frozen=True)
class Package:
    """What is mutated together, the tests that must notice, and the modules where every mutant dies or is explained."""

    code: tuple[str, ...]
    tests: tuple[str, ...]
    strict: tuple[str, ...] = ()


PACKAGES: Mapping[str, Package] = {
    "law": Package(
        ("core/law/*.py",),
        ("core/test_law_clauses.py", "core/test_law.py", "core/test_law_logic.py", "core/test_law_rules.py"),
        ("core/law/evaluate.py", "core/law/clauses.py"),
    ),
    "light": Package(("core/light/*.py",), ("core/test_light_figures.py", "core/test_light.py")),
    "layout-check": Package(
        ("core/nest/check.py",), ("core/test_layout_check.py",), ("core/nest/check.py",)
    ),
    "plan-check": Package(
        ("core/schedule/check.py",), ("core/test_schedule_check.py",), ("core/schedule/check.py",)
    ),
    "booking": Package(("core/cut/booking.py",), ("core/test_booking.py",), ("core/cut/booking.py",)),
    "money": Package(
        ("core/pricing/*.py", "documents/money.py"),
        ("core/test_pricing.py", "documents/test_money.py"),
        ("core/pricing/prices.py", "core/pricing/quote.py", "documents/money.py"),
    ),
}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    """One changed place in the code that no test noticed."""

    name: str
    module: str
    function: str
    was: str
    became: str

    @property
    def key(self) -> str:
        """What its reason is found by: numbers of mutants shift whenever a function changes, lines seldom do."""
        return f"{self.module}:{self.function}: {self.was} -> {self.became}"


@dataclass(frozen=True)
class Outcome:
    """What became of a package's mutants."""

    package: str
    counts: Counter[str]
    alive: tuple[Mutant, ...]


def main(arguments: list[str]) -> int:
    """Run the named packages, or all; 1 where something is alive that should not be."""
    options = {one for one in arguments if one.startswith("--")}
    if options - {"--fresh", "--report"}:
        print("The options are --fresh and --report.", file=sys.stderr)
        return 2
    names = [one for one in arguments if not one.startswith("--")] or list(PACKAGES)
    if unknown := set(names) - set(PACKAGES):
        print(f"There is no package {', '.join(sorted(unknown))}; there are {', '.join(PACKAGES)}.", file=sys.stderr)
        return 2
    WORK.mkdir(exist_ok=True)
    for name in [] if "--report" in options else names:
        if "--fresh" in options:
            shutil.rmtree(WORK / name, ignore_errors=True)
        print(f"== {name}", flush=True)
        if status := run_package(name):
            return status
    reasons: dict[str, str] = json.loads(REASONS.read_text("utf-8"))
    found = [outcome_of(name) for name in PACKAGES if (WORK / name / "mutants").exists()]
    problems = list(judged(found, reasons))
    if len(found) == len(PACKAGES):
        REPORT.write_text("\n".join(report(found, reasons)) + "\n", "utf-8")
        problems += [f"No mutant is any more: {key}" for key in set(reasons) - {m.key for o in found for m in o.alive}]
    for outcome in found:
        print(f"{outcome.package}: {', '.join(f'{count} {word}' for word, count in sorted(outcome.counts.items()))}")
    print("\n".join(problems))
    return 1 if problems else 0


def run_package(name: str) -> int:
    """Have mutmut make and try a package's mutants."""
    package, folder = PACKAGES[name], WORK / name
    folder.mkdir(exist_ok=True)
    for linked in ("src", "tests"):
        if not (folder / linked).exists():
            (folder / linked).symlink_to(ROOT / linked, target_is_directory=True)
    (folder / "pyproject.toml").write_text(settings_of(package), "utf-8")
    # mutmut copies what is not Python only once.
    shutil.rmtree(folder / "mutants" / "src" / "elumbra" / "data", ignore_errors=True)
    forget_what_tests_may_change(folder, package)
    variables = os.environ | {"ELUMBRA_TESTS": "mutation", "PYTHONPATH": ""}
    return subprocess.run([str(Path(sys.executable).with_name("mutmut")), "run"], cwd=folder, env=variables).returncode


def settings_of(package: Package) -> str:
    """The project's own settings, and mutmut's for this package."""
    own = (ROOT / "pyproject.toml").read_text("utf-8")
    tests = [f"tests/{one}" for one in package.tests if (ROOT / "tests" / one).exists()]
    lines = {
        "source_paths": ["src"],
        "only_mutate": [f"src/elumbra/{one}" for one in package.code],
        "pytest_add_cli_args_test_selection": tests,
        "pytest_add_cli_args": ["-p", "no:xdist", "-p", "no:cacheprovider", "-o", "addopts=--import-mode=importlib"],
        "track_dependencies": False,
        "use_git_change_detection": False,
        "on_dependency_change": "ignore",
        # A process that has only collected the tests: one that ran them has warm caches, which hide what is changed.
        "process_isolation": "forkserver",
        "timeout_multiplier": 10.0,
        "timeout_constant": 2.0,
    }
    return own + "\n[tool.mutmut]\n" + "".join(f"{key} = {json.dumps(value)}\n" for key, value in lines.items())


def forget_what_tests_may_change(folder: Path, package: Package) -> None:
    """After a change of tests, which test meets which function is found out anew, and what was alive is tried again."""
    paths = sorted([*(ROOT / "tests" / "catalogue").iterdir(), *(ROOT / "tests" / one for one in package.tests)])
    text = b"".join(path.read_bytes() for path in paths if path.is_file())
    stamp, now = folder / "tests.stamp", hashlib.sha256(text).hexdigest()
    if stamp.exists() and stamp.read_text() == now:
        return
    (folder / "mutants" / "mutmut-stats.json").unlink(missing_ok=True)
    for path in (folder / "mutants").rglob("*.meta"):
        kept = json.loads(path.read_text("utf-8"))
        codes = kept["exit_code_by_key"]
        kept["exit_code_by_key"] = {key: code if code in (1, 3) else None for key, code in codes.items()}
        path.write_text(json.dumps(kept), "utf-8")
    stamp.write_text(now)


_WORDS = {0: "alive", 1: "killed", 3: "killed", 5: "untested", 33: "untested", None: "not tried"}


def outcome_of(name: str) -> Outcome:
    """Read off what mutmut kept of a package."""
    folder = WORK / name / "mutants"
    counts: Counter[str] = Counter()
    alive: list[Mutant] = []
    for path in sorted(folder.rglob("*.meta")):
        module = str(path.relative_to(folder / "src" / "elumbra")).removesuffix(".meta")
        for key, code in json.loads(path.read_text("utf-8"))["exit_code_by_key"].items():
            word = _WORDS.get(code, "killed by its time")
            counts[word] += 1
            if word in ("alive", "untested", "not tried"):
                alive.append(mutant(folder, module, key))
    return Outcome(name, counts, tuple(alive))


def mutant(folder: Path, module: str, key: str) -> Mutant:
    """What a mutant changed: its lines beside those of the function it was made of."""
    code = (folder / "src" / "elumbra" / module).read_text("utf-8").splitlines()
    name = key.rpartition(".")[2]
    base, _, _ = name.rpartition("__mutmut_")
    was, became = _body(code, f"{base}__mutmut_orig"), _body(code, name)
    lines = [(a, b) for a, b in _beside(was, became) if a != b]
    function = re.sub(r"^x[_ǁ]", "", base).replace("ǁ", ".")
    return Mutant(key, module, function, " / ".join(a for a, _ in lines if a), " / ".join(b for _, b in lines if b))


def _beside(was: list[str], became: list[str]) -> Iterator[tuple[str, str]]:
    import difflib

    for line in difflib.ndiff(was, became):
        if line.startswith("- "):
            yield line[2:].strip(), ""
        elif line.startswith("+ "):
            yield "", line[2:].strip()


def _body(code: list[str], name: str) -> list[str]:
    start = next(i for i, line in enumerate(code) if re.match(rf"\s*(async )?def {re.escape(name)}\(", line))
    depth = len(code[start]) - len(code[start].lstrip())
    found = [code[start].replace(name, "")]
    closed = code[start].rstrip().endswith(":")
    for line in code[start + 1 :]:
        if closed and line.strip() and len(line) - len(line.lstrip()) <= depth:
            break
        found.append(line)
        closed = closed or line.rstrip().endswith(":")
    return found


def judged(found: list[Outcome], reasons: Mapping[str, str]) -> Iterator[str]:
    """What is alive without a reason in a strict module, and packages with too much alive elsewhere."""
    for outcome in found:
        strict = PACKAGES[outcome.package].strict
        for one in outcome.alive:
            if one.module in strict and one.key not in reasons:
                yield f"Alive: {one.key}  ({one.name})"
        elsewhere = [one for one in outcome.alive if one.module not in strict]
        whole = counted_outside(outcome.package, strict)
        if whole and len(elsewhere) > MOST_ALIVE * whole:
            yield f"{outcome.package}: {len(elsewhere)} of {whole} alive outside its strict modules, over 5 %."


def counted_outside(name: str, strict: tuple[str, ...]) -> int:
    """Mutants of a package that are not in its strict modules."""
    folder = WORK / name / "mutants"
    return sum(
        len(json.loads(path.read_text("utf-8"))["exit_code_by_key"])
        for path in folder.rglob("*.meta")
        if str(path.relative_to(folder / "src" / "elumbra")).removesuffix(".meta") not in strict
    )


def report(found: list[Outcome], reasons: Mapping[str, str]) -> Iterator[str]:
    """The page of what is alive."""
    yield "# Mutants"
    yield ""
    yield "Written by `./elumbra mutate`. One thing in the code is changed at a time; a test must fail."
    yield "A mutant *killed by its time* went round in circles until it was stopped."
    yield ""
    yield "| package | mutants | killed | killed by its time | alive |"
    yield "| --- | ---: | ---: | ---: | ---: |"
    for outcome in found:
        counts = outcome.counts
        yield (
            f"| {outcome.package} | {counts.total()} | {counts['killed']} | {counts['killed by its time']} | "
            f"{len(outcome.alive)} |"
        )
    for outcome in found:
        if outcome.alive:
            yield from ("", f"## {outcome.package}", "")
        for one in sorted(outcome.alive, key=lambda one: one.key):
            yield f"- `{one.module}`, `{one.function}`: `{one.was}` became `{one.became}`."
            yield f"  {reasons.get(one.key, 'Alive: a difference that no test looks for.')}"


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
