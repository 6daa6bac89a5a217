"""Commands behind the ``elumbra`` script."""

from __future__ import annotations

import argparse
import errno
import logging
import shutil
import subprocess
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from elumbra.core.errors import CoreError

if TYPE_CHECKING:
    from elumbra.api.people.operations import Lan
    from elumbra.lan import Front
    from elumbra.storage.database import Database

DATABASE = "elumbra.db"
_ROOT = Path(__file__).resolve().parents[2]
DEFAULT_PORT, DEFAULT_HTTPS, DEFAULT_PLAIN = 8420, 8443, 8480
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
        if name == "demo":
            command.add_argument("--no-devices", action="store_true", help="start no simulated devices")
        if name == "serve":
            command.add_argument("--lan", action="store_true", help="let the shop's devices in, over https")
            command.add_argument("--https-port", type=int, default=DEFAULT_HTTPS)
            command.add_argument("--plain-port", type=int, default=DEFAULT_PLAIN)
            command.add_argument("--name", action="append", default=[], help="another name of this machine")
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
    restore.add_argument("--rehearse", action="store_true", help="only say what it would give")
    out = commands.add_parser("export-shop", help="write the whole shop as open files")
    out.add_argument("archive", type=Path, metavar="SHOP.zip")
    out.add_argument("--data", type=Path, required=True, metavar="DIR")
    taken = commands.add_parser("import-shop", help="take a whole shop into an empty folder")
    taken.add_argument("archive", type=Path, metavar="SHOP.zip")
    taken.add_argument("--data", type=Path, required=True, metavar="DIR")
    reset = commands.add_parser("reset-password", help="a new password for somebody, from the machine itself")
    reset.add_argument("person", metavar="NAME")
    reset.add_argument("--data", type=Path, required=True, metavar="DIR")
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
        from elumbra.plan_files import write_plan

        return write_plan(options.job, options.out, options.paper)
    if options.command == "export-docs":
        from elumbra.reference import write_reference

        write_reference(options.out)
        return 0
    from elumbra.api.app import UnusableSecretError
    from elumbra.lan import AuthorityError
    from elumbra.storage.database import DiskFullError, ReadOnlyError, UnusableDatabaseError
    from elumbra.storage.lock import FolderTakenError

    try:
        if options.command == "backup":
            return _backup(options.data, options.copy)
        if options.command == "restore":
            return _restore(options.data, options.copy, rehearse=options.rehearse)
        if options.command == "export-shop":
            return _export_shop(options.data, options.archive)
        if options.command == "import-shop":
            return _import_shop(options.data, options.archive)
        if options.command == "reset-password":
            return _reset_password(options.data, options.person)
        demo = options.command == "demo"
        devices = demo and not options.no_devices
        return _serve(options.data, _ports(options), demo=demo, fresh=options.fresh, devices=devices)
    except (FolderTakenError, UnusableDatabaseError, UnusableSecretError, ReadOnlyError, AuthorityError) as error:
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


def _ports(options: argparse.Namespace) -> _Ports:
    if not getattr(options, "lan", False):
        return _Ports(options.port)
    return _Ports(options.port, lan=True, https=options.https_port, plain=options.plain_port, names=tuple(options.name))


def _backup(data: Path, copy: Path) -> int:
    from elumbra.storage.backup import photos_beside
    from elumbra.storage.database import UnusableDatabaseError
    from elumbra.storage.keeping import BY_HAND, make_copy
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.photos import copy_photos

    database = data / DATABASE
    if not database.is_file():
        raise UnusableDatabaseError(f"There is no data in {data}. Name its folder with --data.")
    made = make_copy(database, copy.parent, name=copy.name, why=BY_HAND)
    copy_photos(data / PHOTOS, photos_beside(copy))
    rows = sum(count for count, _ in made.manifest.tables.values()) if made.manifest else 0
    print(f"Copied to {copy}, {made.size / 1e6:.1f} MB, {rows} rows, read back and compared.")
    return 0


def _restore(data: Path, copy: Path, *, rehearse: bool) -> int:
    from elumbra.storage.backup import check_copy, photos_beside, put_back
    from elumbra.storage.database import Database
    from elumbra.storage.keeping import Copy
    from elumbra.storage.keeping import rehearse as rehearsed
    from elumbra.storage.lock import FolderLock
    from elumbra.storage.manifest import parse_manifest
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.photos import copy_photos

    check_copy(copy)
    beside = copy.with_suffix(".json")
    manifest = parse_manifest(beside.read_text(encoding="utf-8")) if beside.is_file() else None
    found = rehearsed(Copy(copy.name, copy, copy.stat().st_size, manifest), data / DATABASE)
    print(f"Rehearsed: {copy.name} is whole, {found.tables.get('job', 0)} jobs, {sum(found.tables.values())} rows.")
    for table, words in found.against_now.tables.items():
        print(f"  against now, {table}: {words}")
    if rehearse:
        return 0
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


def _export_shop(data: Path, out: Path) -> int:
    from elumbra.storage.database import UnusableDatabaseError
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.whole_shop import export_shop

    if not (data / DATABASE).is_file():
        raise UnusableDatabaseError(f"There is no data in {data}. Name its folder with --data.")
    out.parent.mkdir(parents=True, exist_ok=True)
    counts = export_shop(data / DATABASE, data / PHOTOS, out)
    print(f"{out}: {sum(counts.values())} rows of {len(counts)} tables.")
    return 0


def _import_shop(data: Path, archive: Path) -> int:
    from elumbra.storage.lock import FolderLock
    from elumbra.storage.photos import FOLDER as PHOTOS
    from elumbra.storage.whole_shop import import_shop

    data.mkdir(parents=True, exist_ok=True)
    lock = FolderLock(data)
    lock.take("elumbra import-shop")
    try:
        import_shop(archive, data / DATABASE, data / PHOTOS)
    finally:
        lock.release()
    print(f"{archive} is taken in and compared: the same shop. Its owner chooses a password when he first signs in.")
    return 0


def _reset_password(data: Path, name: str) -> int:
    """A new password for somebody, by whoever may open the machine's files; also while the server runs."""
    import secrets

    from elumbra.storage import doors
    from elumbra.storage.database import Database, UnusableDatabaseError
    from elumbra.storage.store import people

    path = data / DATABASE
    if not path.is_file():
        raise UnusableDatabaseError(f"There is no data in {data}. Name its folder with --data.")
    database = Database(path)
    database.check()
    try:
        with database.session(write=True) as session:
            everybody = people(session).all(order="name")
            found = [one for one in everybody if name.casefold() in (one.name.casefold(), one.id)]
            if len(found) != 1:
                known = ", ".join(one.name for one in everybody) or "nobody"
                raise UnusableDatabaseError(f"There is no one person “{name}”. Here are: {known}.")
            password = "-".join(secrets.token_hex(2) for _ in range(3))
            doors.set_secret(session, found[0].id, doors.PASSWORD, password, once=True)
            doors.drop_secret(session, found[0].id, doors.PIN)
            doors.send_away(session, person_id=found[0].id)
            doors.forget_guesses(session, found[0].id)
    finally:
        database.close()
    print(f"{found[0].name} signs in with {password} and then chooses a password. All other screens are signed out.")
    return 0


@dataclass(frozen=True)
class _Ports:
    """Where the server listens: on the machine itself, and for the shop's devices."""

    own: int
    lan: bool = False
    https: int = DEFAULT_HTTPS
    plain: int = DEFAULT_PLAIN
    names: tuple[str, ...] = ()


def _serve(data: Path, ports: _Ports, *, demo: bool, fresh: bool, devices: bool) -> int:
    from elumbra.storage.lock import FolderLock
    from elumbra.storage.photos import FOLDER as PHOTOS

    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s %(levelname)s %(message)s")
    lock = FolderLock(data)
    lock.take(f"the server at http://127.0.0.1:{ports.own}")
    try:
        if fresh and demo:
            for old in data.glob(f"{DATABASE}*"):
                old.unlink()
            shutil.rmtree(data / PHOTOS, ignore_errors=True)
        return _serve_locked(data, ports, demo=demo, devices=devices)
    finally:
        lock.release()


def _ready(database: Database, *, demo: bool) -> None:
    """Fill the demo shop once; take the copy that an older shop's delivered cars go by, before anybody says more."""
    from elumbra.api.handover.older import freeze_gone
    from elumbra.car import take_copy
    from elumbra.demo import fill_demo
    from elumbra.demo_day import fill_day
    from elumbra.demo_month import fill_month

    if demo and fill_demo(database):
        fill_month(database)
        fill_day(database)
        freeze_gone(database)
    with database.session(write=True) as session:
        take_copy(session)


def _serve_locked(data: Path, ports: _Ports, *, demo: bool, devices: bool) -> int:
    from waitress.server import create_server

    from elumbra.api.app import AppConfig, load_secret, make_app
    from elumbra.api.handover.older import freeze_gone
    from elumbra.api.web.doors import Rate
    from elumbra.lan import behind_front
    from elumbra.lan.front import free_inner_port
    from elumbra.storage.database import Database
    from elumbra.storage.upkeep import Upkeep
    from elumbra.tasks import TaskRunner

    database = _opened(Database(data / DATABASE), data)
    _ready(database, demo=demo)
    runner, upkeep = TaskRunner(database), Upkeep(database, data, freeze_gone)
    front, lan, hosts = _front(data, ports)
    config = AppConfig(
        database, runner, load_secret(data), _ROOT / "frontend" / "dist", hosts=hosts, rate=Rate() if front else None,
        keeper=upkeep, lan=lan,
    )  # fmt: skip
    app = make_app(config)
    inner = free_inner_port() if front else 0
    listen = f"127.0.0.1:{ports.own}" + (f" 127.0.0.1:{inner}" if front else "")
    try:
        if front is not None:
            front.start(inner)
        served = app if front is None else behind_front(app.wsgi_app, front)
        server = create_server(served, listen=listen, threads=_THREADS, ident=None)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        taken = ", ".join(str(one) for one in ((ports.own, ports.https, ports.plain) if front else (ports.own,)))
        print(f"elumbra: port {taken} is taken. Stop what uses it, or name another with --port.", file=sys.stderr)
        return 1
    runner.start()
    upkeep.start()
    simulated = [_start_simulator(name) for name in ("light_meter", "cutter", "thermometer")] if devices else []
    print(f"Elumbra is at http://127.0.0.1:{ports.own}  (data in {data}; stop with Ctrl-C)", flush=True)
    if lan is not None:
        print(f"The shop's devices: {', '.join(lan.addresses)}", flush=True)
        print(f"Each first installs the authority from {lan.plain}, SHA-256 {lan.fingerprint}", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        for device in simulated:
            device.terminate()
            device.wait()
        if front is not None:
            front.stop()
        upkeep.stop()
        runner.stop()
        database.close()
    return 0


def _front(data: Path, ports: _Ports) -> tuple[Front | None, Lan | None, frozenset[str]]:
    """The front for the shop's devices, where it was asked for, and the names that it answers to."""
    if not ports.lan:
        return None, None, frozenset()
    from elumbra.api.people.operations import Lan
    from elumbra.lan import Front, names_here, open_authority

    names = names_here(ports.names)
    authority = open_authority(data, names)
    addresses = tuple(f"https://{f'[{one}]' if ':' in one else one}:{ports.https}" for one in names)
    host = next((one for one in names if one.count(".") == 3), names[0])
    plain = f"http://{host}:{ports.plain}"
    front = Front(authority, port=ports.https, plain_port=ports.plain)
    return front, Lan(addresses, plain, authority.fingerprint), frozenset(names)


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
    from elumbra.storage.backup import FOLDER
    from elumbra.storage.keeping import UPGRADE, make_copy
    from elumbra.storage.photos import move_out

    database.check()
    if not database.at_head():
        make_copy(database.path, data / FOLDER, name="before-upgrade.db", why=UPGRADE)
    database.migrate()
    move_out(database)
    return database


if __name__ == "__main__":
    sys.exit(main())
