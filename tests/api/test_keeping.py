"""Copies through the API, for the owner."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest

from elumbra.api.app import AppConfig, make_app
from elumbra.storage.database import Database
from elumbra.storage.upkeep import Upkeep
from tests.api.conftest import Desk, StandInTasks


@pytest.fixture
def owner(database: Database, tasks: StandInTasks, tmp_path: Path) -> Desk:
    desk = Desk(make_app(AppConfig(database, tasks, b"test", keeper=Upkeep(database, tmp_path))).test_client())
    desk.sign_in("ruth")
    return desk


def test_copied_rehearsed_and_put_back_by_the_owner(owner: Desk) -> None:
    assert owner.get("/keeping")["copies"] == []
    page = owner.do("POST", "/keeping/copy")
    (copy,) = page["copies"]
    assert (copy["why"], copy["rows"] > 1000, page["last_bad"]) == ("by hand", True, False)
    owner.do("POST", "/jobs", {"vehicle_label": "After", "body": "sedan", "states": ["TX"]}, status=201)
    found = owner.do("POST", "/keeping/rehearse", {"name": copy["name"]})
    assert found["jobs"] == 9
    assert {"what": "jobs", "words": "9 rows against 10"} in found["differs"]
    said = owner.do("POST", "/keeping/restore", {"name": copy["name"], "again": "yes"}, status=422)
    assert said["message"].startswith("Type the name of the copy once more")
    done = owner.do("POST", "/keeping/restore", {"name": copy["name"], "again": copy["name"]})
    assert "is in place: 9 jobs" in done["words"]
    assert len(owner.get("/jobs")["jobs"]) == 9
    assert {one["why"] for one in owner.get("/keeping")["copies"]} == {"by hand", "before a restore"}


def test_a_copy_that_is_not_there_and_a_folder_that_is_none_are_told(owner: Desk, tmp_path: Path) -> None:
    said = owner.do("POST", "/keeping/rehearse", {"name": "nothing.db"}, status=422)
    assert "There is no copy “nothing.db”" in said["message"]
    version = owner.get("/keeping")["version"]
    said = owner.do("PUT", "/keeping", {"second_folder": "/no/such/drive", "version": version}, status=422)
    assert said["fields"]["second_folder"] == "Not there."
    drive = tmp_path / "drive"
    drive.mkdir()
    assert owner.do("PUT", "/keeping", {"second_folder": str(drive), "version": version})["second_folder"] == str(drive)
    owner.do("POST", "/keeping/copy")
    assert len(list(drive.glob("by-hand-*.db"))) == 1


def test_the_whole_shop_is_a_zip_of_open_files_without_secrets(owner: Desk) -> None:
    response = owner.call("GET", "/keeping/shop.zip")
    assert response.mimetype == "application/zip"
    with ZipFile(BytesIO(response.data)) as archive:
        names = archive.namelist()
        assert "tables/job.json" in names
        assert "tables/credential.json" not in names
        assert b"argon2" not in b"".join(archive.read(name) for name in names)


def test_a_server_without_a_folder_says_that_it_keeps_no_copies(desk_of: Any) -> None:
    assert "keeps no copies" in desk_of("ruth").do("POST", "/keeping/copy", status=422)["message"]
