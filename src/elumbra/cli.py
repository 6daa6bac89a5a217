"""Commands behind the ``elumbra`` script: serve, demo, plan, backup, restore, export-docs."""

from __future__ import annotations

import argparse
import errno
import logging
import shutil
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from elumbra.core.errors import CoreError

if TYPE_CHECKING:
    from elumbra.storage.database import Database

DATABASE = "elumbra.db"
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
    backup = commands.add_parser("backup", help="copy a shop's data, also while it is in use")
    backup.add_argument("copy", type=Path, metavar="COPY.db")
    backup.add_argument("--data", type=Path, required=True, metavar="DIR")
    restore = commands.add_parser("restore", help="put a copy back in the place of a shop's data")
    restore.add_argument("copy", type=Path, metavar="COPY.db")
    restore.add_argument("--data", type=Path, required=True, metavar="DIR")
    docs = commands.add_parser("export-docs", help="write the generated reference pages")
    docs.add_argument("--out", type=Path, default=_ROOT / "docs" / "reference")
    options = parser.parse_args(arguments)
    try:
        return _run(options)
    except CoreError as error:
        print(f"elumbra: {error.message}", file=sys.stderr)
        for place, sentence in error.fields.items():
            print(f"  {place}: {sentence}", file=sys.stderr)
        return 2


def _run(options: argparse.Namespace) -> int:
    if options.command == "plan":
        return _plan(options.job, options.out, options.paper)
    if options.command == "export-docs":
        from elumbra.reference import write_reference

        write_reference(options.out)
        return 0
    from elumbra.api.app import UnusableSecretError
    from elumbra.storage.database import DiskFullError, UnusableDatabaseError
    from elumbra.storage.lock import FolderTakenError

    try:
        if options.command == "backup":
            return _backup(options.data, options.copy)
        if options.command == "restore":
            return _restore(options.data, options.copy)
        return _serve(options.data, options.port, demo=options.command == "demo", fresh=options.fresh)
    except (FolderTakenError, UnusableDatabaseError, UnusableSecretError) as error:
        print(f"elumbra: {error}", file=sys.stderr)
    except DiskFullError:
        print(f"elumbra: the disk that holds {options.data} is full. Free some room and start again.", file=sys.stderr)
    except OSError as error:
        if error.errno == errno.ENOSPC:
            words = f"the disk that holds {options.data} is full. Free some room and start again."
        else:
            words = (
                f"{error.filename or options.data}: {error.strerror}. Mend that, or name another folder with --data."
            )
        print(f"elumbra: {words}", file=sys.stderr)
    return 1


def _backup(data: Path, copy: Path) -> int:
    from elumbra.storage.backup import copy_to, photos_beside
    from elumbra.storage.database import UnusableDatabaseError
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.photos import copy_photos

    database = data / DATABASE
    if not database.is_file():
        raise UnusableDatabaseError(f"There is no data in {data}. Name its folder with --data.")
    copy_to(database, copy)
    copy_photos(data / PHOTOS, photos_beside(copy))
    print(f"Copied to {copy}, {copy.stat().st_size / 1e6:.1f} MB, checked.")
    return 0


def _restore(data: Path, copy: Path) -> int:
    from elumbra.storage.backup import photos_beside, put_back
    from elumbra.storage.database import Database
    from elumbra.storage.lock import FolderLock
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.photos import copy_photos

    lock = FolderLock(data)
    lock.take("elumbra restore")
    try:
        before = put_back(copy, data / DATABASE)
        copy_photos(photos_beside(copy), data / PHOTOS)
        database = Database(data / DATABASE)
        database.migrate()
        database.close()
    finally:
        lock.release()
    print(f"{copy} is in place." + (f" What stood there before is {before}." if before else ""))
    return 0


def _plan(job: Path, out: Path, paper: str) -> int:
    from elumbra.documents.cut_sheet import cut_sheet_pdf
    from elumbra.documents.job_file import JobFileError, parse_job_file
    from elumbra.documents.layout_svg import layout_svg
    from elumbra.documents.paper import Paper
    from elumbra.storage import clock
    from elumbra.storage.data_files import law_file, starting_values
    from elumbra.tasks import final_plan

    try:
        content = job.read_bytes()
    except OSError as error:
        raise JobFileError(f"{job} cannot be read: {error.strerror}. Check the name.") from error
    plan = final_plan(parse_job_file(content), law_file(), starting_values(), today=clock.today_iso())
    files = {
        "plan.json": (plan.model_dump_json(indent=2) + "\n").encode(),
        "cut-sheet.pdf": cut_sheet_pdf(plan, paper=Paper(paper)),
    }
    for i, film in enumerate(plan.films):
        files[f"layout-{i + 1}.svg"] = layout_svg(film, told=plan.gate_lines())
    out.mkdir(parents=True, exist_ok=True)
    for name, data in files.items():
        (out / name).write_bytes(data)
        print(out / name)
    for film in plan.films:
        for item in film.unplaced:
            print(f"no film for {item.label}: {item.reason}", file=sys.stderr)
    print(plan.ready)
    for held in plan.held:
        print(f"held back: {held.label}: {held.reason}", file=sys.stderr)
    return 0


def _serve(data: Path, port: int, *, demo: bool, fresh: bool) -> int:
    from elumbra.storage.lock import FolderLock
    from elumbra.storage.photos import FOLDER as PHOTOS

    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s %(levelname)s %(message)s")
    lock = FolderLock(data)
    lock.take(f"the server at http://127.0.0.1:{port}")
    try:
        if fresh and demo:
            for old in data.glob(f"{DATABASE}*"):
                old.unlink()
            shutil.rmtree(data / PHOTOS, ignore_errors=True)
        return _serve_locked(data, port, demo=demo)
    finally:
        lock.release()


def _serve_locked(data: Path, port: int, *, demo: bool) -> int:
    from waitress.server import create_server

    from elumbra.api.app import AppConfig, load_secret, make_app
    from elumbra.demo import fill_demo, first_people
    from elumbra.demo_month import fill_month
    from elumbra.storage.database import Database
    from elumbra.storage.upkeep import Upkeep
    from elumbra.tasks import TaskRunner

    database = _opened(Database(data / DATABASE), data)
    if not demo:
        first_people(database)
    elif fill_demo(database):
        fill_month(database)
    runner, upkeep = TaskRunner(database), Upkeep(database, data)
    app = make_app(AppConfig(database, runner, load_secret(data), _ROOT / "frontend" / "dist"))
    try:
        server = create_server(app, host="127.0.0.1", port=port, threads=_THREADS, ident=None)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        print(f"elumbra: port {port} is taken. Stop what uses it, or name another with --port.", file=sys.stderr)
        return 1
    runner.start()
    upkeep.start()
    devices = [_start_simulator(name) for name in ("light_meter", "cutter", "thermometer")] if demo else []
    print(f"Elumbra is at http://127.0.0.1:{port}  (data in {data}; stop with Ctrl-C)", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        for device in devices:
            device.terminate()
            device.wait()
        upkeep.stop()
        runner.stop()
        database.close()
    return 0


def _start_simulator(name: str) -> subprocess.Popen[bytes]:
    """A simulated device in a process of its own; where its port is taken, it ends by itself."""
    return subprocess.Popen(
        [sys.executable, "-m", f"elumbra.simulators.{name}", "--with-parent"],
        stdin=subprocess.PIPE,  # closed by the system when this process ends, however it ends
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )


def _opened(database: Database, data: Path) -> Database:
    """The database, checked and brought to this release; a copy is made before it is changed."""
    from elumbra.storage.backup import FOLDER, copy_to
    from elumbra.storage.photos import move_out

    database.check()
    if not database.at_head():
        copy_to(database.path, data / FOLDER / "before-upgrade.db")
    database.migrate()
    move_out(database)
    return database


if __name__ == "__main__":
    sys.exit(main())
