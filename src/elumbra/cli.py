"""Commands behind the ``elumbra`` script: serve, seed, plan, export-docs."""

from __future__ import annotations

import argparse
import errno
import logging
import sys
from collections.abc import Sequence
from pathlib import Path

from elumbra.core.errors import CoreError

_ROOT = Path(__file__).resolve().parents[2]
DEFAULT_PORT = 8420
_THREADS = 8


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; the exit code is 0 when it did what was asked."""
    parser = argparse.ArgumentParser(prog="elumbra", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, words in (("serve", "serve a shop's own data"), ("demo", "serve made-up data to try things on")):
        command = commands.add_parser(name, help=words)
        command.add_argument("--port", type=int, default=DEFAULT_PORT)
        command.add_argument("--data", type=Path, required=True, metavar="DIR")
        command.add_argument("--fresh", action="store_true", help="throw the demo data away and fill it again")
    plan = commands.add_parser("plan", help="plan a job file without a browser")
    plan.add_argument("job", type=Path, metavar="JOB.json")
    plan.add_argument("--out", type=Path, required=True, metavar="DIR")
    plan.add_argument("--paper", choices=("letter", "a4"), default="letter")
    docs = commands.add_parser("export-docs", help="write the generated reference pages")
    docs.add_argument("--out", type=Path, default=_ROOT / "docs" / "reference")
    options = parser.parse_args(arguments)
    try:
        if options.command == "plan":
            return _plan(options.job, options.out, options.paper)
        if options.command == "export-docs":
            from elumbra.reference import write_reference

            write_reference(options.out)
            return 0
        return _serve(options.data, options.port, demo=options.command == "demo", fresh=options.fresh)
    except CoreError as error:
        print(f"elumbra: {error.message}", file=sys.stderr)
        for place, sentence in error.fields.items():
            print(f"  {place}: {sentence}", file=sys.stderr)
        return 2


def _plan(job: Path, out: Path, paper: str) -> int:
    from elumbra.documents.cut_sheet import Paper, cut_sheet_pdf
    from elumbra.documents.job_file import JobFileError, parse_job_file
    from elumbra.documents.layout_svg import layout_svg
    from elumbra.documents.make_plan import final_plan
    from elumbra.storage.clock import today_iso
    from elumbra.storage.data_files import law_file, starting_values

    try:
        content = job.read_bytes()
    except OSError as error:
        raise JobFileError(f"{job} cannot be read: {error.strerror}. Check the name.") from error
    plan = final_plan(parse_job_file(content), law_file(), starting_values(), today=today_iso())
    files = {
        "plan.json": (plan.model_dump_json(indent=2) + "\n").encode(),
        "cut-sheet.pdf": cut_sheet_pdf(plan, paper=Paper(paper)),
    }
    for i, film in enumerate(plan.films):
        files[f"layout-{i + 1}.svg"] = layout_svg(film)
    out.mkdir(parents=True, exist_ok=True)
    for name, data in files.items():
        (out / name).write_bytes(data)
        print(out / name)
    for film in plan.films:
        for item in film.unplaced:
            print(f"no film for {item.label}: {item.reason}", file=sys.stderr)
    for held in plan.held:
        print(f"not cut: {held.label}: {held.reason}", file=sys.stderr)
    return 0


def _serve(data: Path, port: int, *, demo: bool, fresh: bool) -> int:
    from waitress.server import create_server

    from elumbra.api.app import AppConfig, load_secret, make_app
    from elumbra.demo import fill_demo, first_people
    from elumbra.solver import SolverRunner
    from elumbra.storage.database import Database

    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s %(levelname)s %(message)s")
    path = data / "elumbra.db"
    if fresh and demo:
        for old in data.glob("elumbra.db*"):
            old.unlink()
    database = Database(path)
    try:
        database.migrate()
    except OSError as error:
        print(f"elumbra: {data} cannot be written: {error.strerror}. Name another folder with --data.", file=sys.stderr)
        return 1
    if demo:
        fill_demo(database)
    else:
        first_people(database)
    runner = SolverRunner(database)
    front_end = _ROOT / "frontend" / "dist"
    app = make_app(AppConfig(database, runner, load_secret(data), front_end))
    try:
        server = create_server(app, host="127.0.0.1", port=port, threads=_THREADS, ident=None)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        print(f"elumbra: port {port} is taken. Stop what uses it, or name another with --port.", file=sys.stderr)
        return 1
    runner.start()
    print(f"Elumbra is at http://127.0.0.1:{port}  (data in {data}; stop with Ctrl-C)", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        runner.stop()
        database.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
