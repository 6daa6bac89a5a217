"""Who may come in, as what: every route for every role, passwords, PINs, devices, sittings, throttling, hosts."""

from __future__ import annotations

import json
import re
from datetime import timedelta
from typing import Any

import pytest
from flask.testing import FlaskClient

from elumbra.api.app import AppConfig, make_app
from elumbra.api.base.roles import Role, sees_prices
from elumbra.api.people.operations import Lan
from elumbra.api.web.doors import Rate
from elumbra.demo import demo_password
from elumbra.storage import doors
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from elumbra.storage.door_tables import CredentialRow, GuessRow, SittingRow
from elumbra.storage.tables import WriteRow
from tests.api.conftest import Desk, StandInTasks

OF_ROLE = {"owner": "ruth", "lead": "ines", "installer": "tobi", "learner": "nils", "counter": "sol"}
SHOP = "shop.local"


def _rules(app: Any) -> list[tuple[str, str, frozenset[Role], bool]]:
    found = []
    for rule in app.url_map.iter_rules():
        view = app.view_functions[rule.endpoint]
        roles = getattr(view, "__elumbra_roles__", None)
        if roles is not None:
            path = re.sub(r"<[^>]+>", "2026-11-27", rule.rule.removeprefix("/api"))
            money = getattr(view, "__elumbra_money__", False)
            found += [(method, path, roles, money) for method in rule.methods - {"HEAD", "OPTIONS"}]
    return found


def test_every_route_for_every_role_and_for_nobody(app: Any, desk_of: Any) -> None:
    """Who is refused is refused before anything else is looked at; who is not gets past the door, whatever then."""
    rules = [one for one in _rules(app) if not one[1].startswith(("/session", "/keeping/restore"))]
    assert len(rules) > 180
    desks = {role: desk_of(person) for role, person in OF_ROLE.items()}
    nobody = desk_of(None)
    for method, path, roles, money in rules:
        alone = nobody.call(method, path, {} if method != "GET" else None)
        if roles:
            assert (alone.status_code, alone.json["code"]) == (401, "no_person"), f"{method} {path}"
        for role, desk in desks.items():
            if not roles:
                continue
            response = desk.call(method, path, {} if method != "GET" else None)
            code = response.json.get("code", "") if response.is_json else ""
            if role not in roles:
                assert (response.status_code, code) == (403, "not_your_role"), f"{role}: {method} {path}"
            elif money and not sees_prices(role, {}):
                assert (response.status_code, code) == (403, "no_prices"), f"{role}: {method} {path}"
            else:
                assert code not in ("no_person", "not_your_role", "no_prices", "server_error"), (
                    f"{role}: {method} {path}"
                )


def test_what_an_owner_alone_does_and_what_a_learner_does_not(app: Any) -> None:
    by_path = {(method, path): roles for method, path, roles, _ in _rules(app)}
    assert by_path["POST", "/people"] == by_path["POST", "/keeping/restore"] == {Role.OWNER}
    for path in ("/stock/2026-11-27/bin", "/flaws/2026-11-27/decide", "/cuttings/2026-11-27/take-back"):
        assert Role.LEARNER not in by_path["POST", path], path
    assert Role.LEARNER in by_path["POST", "/jobs/2026-11-27/bay/events"]


def test_a_learner_books_no_piece_off(desk_of: Any) -> None:
    nils = desk_of("nils")
    job = next(one for one in nils.get("/jobs")["jobs"] if one["status"] == "in_bay")
    bay = nils.get(f"/jobs/{job['id']}/bay")
    run = next(one for one in bay["runs"] if one["window_id"] and one["next"] and not one["strip"])
    event = {
        "id": "learner-spoils-1", "kind": "wrong", "happened_at": bay["now"], "window_id": run["window_id"],
        "what": bay["wrongs"][0]["id"], "spoilt": True, "step": run["next"],
    }  # fmt: skip
    said = nils.do("POST", f"/jobs/{job['id']}/bay/events", {"sent_at": bay["now"], "events": [event]})
    assert "Nils Brandt is learning" in said["refused"][0]["why"]


def test_a_wrong_password_says_not_which_was_wrong_and_a_right_one_ends_the_count(desk_of: Any) -> None:
    desk = desk_of(None)
    for name in ("ines", "ghost"):
        answer = desk.do("POST", "/session", {"person_id": name, "password": "guess"}, status=401)
        assert answer["message"] == "That name and password do not go together."
    desk.sign_in("ines")
    assert desk.get("/session")["person"]["name"] == "Ines Varga"


def test_guessing_is_throttled_by_person_and_place_and_outlives_a_restart(
    database: Database, tasks: StandInTasks
) -> None:
    def client() -> Desk:
        return Desk(make_app(AppConfig(database, tasks, b"test")).test_client())

    desk = client()
    for _ in range(5):
        desk.do("POST", "/session", {"person_id": "tobi", "password": "guess"}, status=401)
    again = client()
    refused = again.do("POST", "/session", {"person_id": "tobi", "password": demo_password("tobi")}, status=429)
    assert refused["code"] == "too_many"
    assert re.fullmatch(r"Too many wrong tries\. Wait \d+ seconds.*", refused["message"])
    with database.session(write=True) as session:
        for row in session.query(GuessRow):
            row.at = now() - timedelta(minutes=20)
    again.sign_in("tobi")


@pytest.mark.parametrize(("wrong", "wait"), [(4, 0), (5, 30), (6, 60), (7, 120), (12, 900), (400, 900)])
def test_the_wait_doubles_and_has_an_end(database: Database, wrong: int, wait: int) -> None:
    with database.session(write=True) as session:
        session.add(GuessRow(subject="person:x", wrong=wrong, at=now()))
        session.flush()
        assert wait - 2 <= doors.wait_for(session, ["person:x"]) <= wait
        # A clock that was set back by a year locks nobody out for a year.
        session.get(GuessRow, "person:x").at = now() + timedelta(days=365)  # type: ignore[union-attr]
        session.flush()
        assert doors.wait_for(session, ["person:x"]) <= wait


def test_secrets_are_kept_as_argon2_hashes_and_no_write_keeps_a_quick_one(database: Database, desk_of: Any) -> None:
    desk = desk_of("tobi")
    desk.do("PUT", "/session/password", {"old": demo_password("tobi"), "new": "three wet windows"})
    with database.session(write=False) as session:
        row = session.get(CredentialRow, ("tobi", "password"))
        assert row is not None
        assert row.hash.startswith("$argon2id$v=19$m=65536,t=3,p=4$")
        assert "three wet" not in row.hash
        assert not [one for one in session.query(WriteRow) if "/session" in one.request]
    assert desk.get("/session")["person"]["id"] == "tobi", "the screen that changed it stays signed in"
    desk_of(None).do("POST", "/session", {"person_id": "tobi", "password": demo_password("tobi")}, status=401)


@pytest.mark.parametrize(
    ("new", "said"),
    [("password", "one of the first that anybody tries"), ("Tobi Lund", "one of the first"), ("aaaaaaaaaa", "first"),
     ("short", "at least 8"), ("", "at least 8")],
)  # fmt: skip
def test_a_password_that_everybody_tries_is_refused(desk_of: Any, new: str, said: str) -> None:
    body = {"old": demo_password("tobi"), "new": new}
    answer = desk_of("tobi").do("PUT", "/session/password", body, status=422)
    assert said.lower() in json.dumps(answer).lower()


@pytest.mark.parametrize("pin", ["1111", "1234", "9876", "12", "123456789", "12a4"])
def test_a_pin_that_everybody_tries_is_refused(desk_of: Any, pin: str) -> None:
    body = {"password": demo_password("tobi"), "pin": pin}
    desk_of("tobi").do("PUT", "/session/pin", body, status=422)


def test_changing_a_password_signs_out_all_other_screens(desk_of: Any) -> None:
    here, there = desk_of("tobi"), desk_of("tobi")
    here.do("PUT", "/session/password", {"old": demo_password("tobi"), "new": "three wet windows"})
    assert there.do("GET", "/board", status=401)["code"] == "no_person"
    here.get("/board")


def test_a_sitting_ends_by_idle_time_and_its_cookie_is_worth_nothing_then(database: Database, desk_of: Any) -> None:
    desk = desk_of("tobi")
    with database.session(write=True) as session:
        session.query(SittingRow).update({"seen_at": now() - timedelta(minutes=121)})
    refused = desk.do("GET", "/board", status=401)
    assert refused["message"] == "Nobody touched this screen for long, so it was locked. Sign in again."
    assert "locked" in desk.get("/session")["ended"]
    owner = desk_of("ruth")
    page = owner.get("/people")
    body = {"idle_minutes_bench": 5, "idle_minutes_device": 60, "home": False, "version": page["doors"]["version"]}
    owner.do("PUT", "/people/doors", body)
    with database.session(write=True) as session:
        session.query(SittingRow).update({"seen_at": now() - timedelta(minutes=6)})
    owner.do("GET", "/people", status=401)


def test_the_cookie_of_a_removed_person_opens_nothing(desk_of: Any) -> None:
    tobi, owner = desk_of("tobi"), desk_of("ruth")
    card = next(one for one in owner.get("/people")["people"] if one["id"] == "tobi")
    assert card["here"] == 1
    owner.do("POST", "/people/tobi/remove", {"version": card["version"]})
    assert tobi.do("GET", "/board", status=401)["code"] == "no_person"
    desk_of(None).do("POST", "/session", {"person_id": "tobi", "password": demo_password("tobi")}, status=401)
    back = owner.do("POST", "/people/tobi/restore", {"version": card["version"] + 1})
    assert not next(one for one in back["people"] if one["id"] == "tobi")["removed"]
    desk_of("tobi").get("/board")


def test_somebody_new_changes_the_password_that_was_made_up_for_him(desk_of: Any) -> None:
    owner = desk_of("ruth")
    body = {"name": "Ola Berg", "role": "installer", "password": "first password"}
    made = next(one for one in owner.do("POST", "/people", body, status=201)["people"] if one["name"] == "Ola Berg")
    assert made["to_be_changed"]
    owner.do("POST", "/people", body, status=422)
    ola = desk_of(None)
    said = ola.do("POST", "/session", {"name": "ola berg", "password": "first password"})
    assert said["must_change"]
    assert not ola.do("PUT", "/session/password", {"old": "first password", "new": "one of my own"})["must_change"]


def test_the_last_owner_stays_and_impossible_days_and_hours_are_refused(desk_of: Any) -> None:
    owner = desk_of("ruth")
    ruth = next(one for one in owner.get("/people")["people"] if one["id"] == "ruth")
    version = {"version": ruth["version"]}
    assert "must own the shop" in owner.do("POST", "/people/ruth/remove", version, status=422)["message"]
    assert "must own the shop" in owner.do("PATCH", "/people/ruth", version | {"role": "lead"}, status=422)["message"]
    said = owner.do("PATCH", "/people/ruth", version | {"days_off": ["2026-02-30"]}, status=422)
    assert said["message"] == "“2026-02-30” is no day."
    backward = {"mon": [{"start": "17:00", "end": "08:00"}]}
    assert (
        "ends before it begins"
        in owner.do("PATCH", "/people/ruth", version | {"hours": backward}, status=422)["message"]
    )
    twice = {"mon": [{"start": "08:00", "end": "12:00"}, {"start": "11:00", "end": "13:00"}]}
    assert "overlap at 11:00" in owner.do("PATCH", "/people/ruth", version | {"hours": twice}, status=422)["message"]


def test_own_settings_go_with_the_person(desk_of: Any) -> None:
    here = desk_of("tobi")
    body = {"settings": {"unit": "mm", "text": "large"}, "version": 0}
    here.do("PUT", "/session/settings", body)
    there = desk_of("tobi").get("/session")["person"]
    assert (there["settings"]["unit"], there["settings"]["text"], there["settings_version"]) == ("mm", "large", 1)
    here.do("PUT", "/session/settings", body, status=409)
    assert desk_of("sol").get("/session")["person"]["settings"]["unit"] is None


def test_who_sees_no_prices_is_refused_what_is_all_about_money(desk_of: Any) -> None:
    owner, tobi = desk_of("ruth"), desk_of("tobi")
    assert tobi.get("/ledger")
    card = next(one for one in owner.get("/people")["people"] if one["id"] == "tobi")
    owner.do("PATCH", "/people/tobi", {"version": card["version"], "prices": False})
    said = tobi.do("GET", "/ledger", status=403)
    assert (said["code"], said["message"]) == (
        "no_prices", "Tobi Lund does not see prices here. The owner can change that under People.",
    )  # fmt: skip
    assert not tobi.get("/session")["person"]["prices"]


# ---- first start, home


@pytest.fixture
def empty(tmp_path: Any) -> Database:
    made = Database(tmp_path / "empty.db")
    made.migrate()
    return made


def test_the_first_start_asks_for_the_owner_and_only_once(empty: Database, tasks: StandInTasks) -> None:
    desk = Desk(make_app(AppConfig(empty, tasks, b"test")).test_client())
    assert desk.get("/session")["first_start"]
    desk.do("POST", "/session/owner", {"name": "Orla", "home": False}, status=422)
    said = desk.do("POST", "/session/owner", {"name": "Orla", "password": "wet glass in the rain"})
    assert said["person"]["role"] == "owner"
    assert not said["first_start"]
    desk.do("POST", "/session/owner", {"name": "Eve", "password": "wet glass in the rain"}, status=422)
    other = Desk(make_app(AppConfig(empty, tasks, b"test")).test_client())
    other.do("GET", "/board", status=401)


def test_at_home_nobody_signs_in_on_this_machine_and_no_other_device_is_let_in(
    empty: Database, tasks: StandInTasks
) -> None:
    app = make_app(AppConfig(empty, tasks, b"test", hosts=frozenset({SHOP})))
    desk = Desk(app.test_client())
    assert desk.do("POST", "/session/owner", {"name": "Orla", "home": True})["home"]
    alone = Desk(app.test_client())
    assert alone.get("/session")["person"]["name"] == "Orla"
    alone.get("/board")
    tablet = _tablet(app)
    assert tablet.get("/api/board").json["code"] == "no_owner"


def test_an_owner_of_an_older_release_sets_a_password_at_the_machine_only(
    database: Database, tasks: StandInTasks, app: Any
) -> None:
    with database.session(write=True) as session:
        doors.drop_secret(session, "ruth", "password")
        doors.drop_secret(session, "ines", "password")
    desk = Desk(app.test_client())
    assert next(one for one in desk.get("/session")["people"] if one["id"] == "ruth")["no_password"]
    desk.do("POST", "/session", {"person_id": "ruth", "password": ""}, status=422)
    desk.do("POST", "/session/password/ines", {"new": "my own password"}, status=403)
    assert desk.do("POST", "/session/password/ruth", {"new": "my own password"})["person"]["id"] == "ruth"
    Desk(app.test_client()).do("POST", "/session/password/ruth", {"new": "another one"}, status=403)


# ---- devices, the front's door, hosts


def _tablet(app: Any, address: str = "192.168.1.7") -> FlaskClient:
    """A device of the shop, as it comes through the front."""
    client: FlaskClient = app.test_client()
    client.environ_base |= {"elumbra.peer": address, "HTTP_X_WRITE_ID": "tablet-0001"}
    whole = client.open
    client.open = lambda *rest, **named: whole(*rest, base_url=f"https://{SHOP}", **named)  # type: ignore[method-assign]
    return client


@pytest.fixture
def lan_app(database: Database, tasks: StandInTasks) -> Any:
    lan = Lan((f"https://{SHOP}:8443",), f"http://{SHOP}:8480", "AA:BB")
    return make_app(
        AppConfig(database, tasks, b"test", hosts=frozenset({SHOP}), lan=lan, rate=Rate(burst=60, per_second=5))
    )


def test_a_device_is_enrolled_by_a_code_that_counts_once_and_a_pin_counts_only_there(lan_app: Any) -> None:
    owner = Desk(lan_app.test_client())
    owner.sign_in("ruth")
    made = owner.do("POST", "/people/enrolment")
    assert made["address"] == f"https://{SHOP}:8443/enrol?code={made['code']}"
    assert made["qr_svg"].startswith("<svg")
    tablet = _tablet(lan_app)
    before = tablet.get("/api/session").json
    assert (before["people"], before["known_passwords"], before["device"]) == ([], {}, ""), (
        "names are for the shop's own"
    )
    assert tablet.post("/api/session/device", json={"code": "nonsense", "name": "X"}).status_code == 403
    after = tablet.post("/api/session/device", json={"code": made["code"], "name": "Tablet, bay 1"})
    assert after.json["device"] == "Tablet, bay 1"
    assert len(after.json["people"]) == 6, "names are shown at once"
    cookie = after.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    assert "Secure" in cookie
    assert len(tablet.get("/api/session").json["people"]) == 6
    assert _tablet(lan_app).post("/api/session/device", json={"code": made["code"], "name": "Y"}).status_code == 403
    tobi = Desk(lan_app.test_client())
    tobi.sign_in("tobi")
    tobi.do("PUT", "/session/pin", {"password": demo_password("tobi"), "pin": "4711"})
    assert tablet.post("/api/session", json={"person_id": "tobi", "pin": "4711"}).json["person"]["name"] == "Tobi Lund"
    strange = _tablet(lan_app).post("/api/session", json={"person_id": "tobi", "pin": "4711"})
    assert (strange.status_code, strange.json["code"]) == (403, "not_enrolled")
    page = owner.get("/people")
    (device,) = page["devices"]
    owner.do("POST", f"/people/devices/{device['id']}/remove", {"version": device["version"]})
    assert tablet.get("/api/board").status_code == 401, "whoever sat at it is signed out"
    assert tablet.get("/api/session").json["device"] == ""


def test_pins_are_throttled_on_the_device(lan_app: Any, database: Database) -> None:
    owner = Desk(lan_app.test_client())
    owner.sign_in("ruth")
    owner.do("PUT", "/session/pin", {"password": demo_password("ruth"), "pin": "8253"})
    code = owner.do("POST", "/people/enrolment")["code"]
    tablet = _tablet(lan_app)
    tablet.post("/api/session/device", json={"code": code, "name": "Tablet"})
    tried = [tablet.post("/api/session", json={"person_id": "ruth", "pin": f"{i}000"}).status_code for i in range(7)]
    assert tried[:5] == [401] * 5
    assert set(tried[5:]) == {429}
    assert tablet.post("/api/session", json={"person_id": "ruth", "pin": "8253"}).status_code == 429


@pytest.mark.parametrize(
    ("headers", "code"),
    [
        ({"Host": "evil.example"}, "foreign_page"),
        ({"Host": "192.168.1.50"}, "foreign_page"),
        ({"Origin": "https://evil.example"}, "foreign_page"),
        ({"Origin": f"https://{SHOP}:9999"}, "foreign_page"),
        ({"Origin": "null"}, "foreign_page"),
        ({"Sec-Fetch-Site": "cross-site"}, "foreign_page"),
        ({"Sec-Fetch-Site": "same-site"}, "foreign_page"),
        ({"X-Write-Id": ""}, "foreign_page"),
    ],
)
def test_a_write_from_elsewhere_is_refused_whatever_its_cookie(
    lan_app: Any, headers: dict[str, str], code: str
) -> None:
    client = lan_app.test_client()
    desk = Desk(client)
    desk.sign_in("ruth")
    response = client.post("/api/people/enrolment", headers={"X-Write-Id": "write-0001"} | headers)
    assert (response.status_code, response.json["code"]) == (403, code)


def test_a_page_without_a_header_of_ours_cannot_sign_anybody_in_or_out(app: Any) -> None:
    client = app.test_client()
    body = {"person_id": "tobi", "password": demo_password("tobi")}
    assert client.post("/api/session", json=body).status_code == 403
    assert client.post("/api/session", json=body, headers={"X-Write-Id": "write-0001"}).status_code == 200


def test_every_answer_carries_the_browsers_cautions(lan_app: Any) -> None:
    for client in (lan_app.test_client(), _tablet(lan_app)):
        headers = client.get("/api/session").headers
        assert "frame-ancestors 'none'" in headers["Content-Security-Policy"]
        assert "object-src 'none'" in headers["Content-Security-Policy"]
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["Cross-Origin-Opener-Policy"] == "same-origin"
        assert headers["Cache-Control"] == "no-store"
    assert "Strict-Transport-Security" in _tablet(lan_app).get("/api/session").headers


def test_one_device_that_asks_for_too_much_waits_and_the_others_do_not(lan_app: Any) -> None:
    loud, calm = _tablet(lan_app, "192.168.1.66"), _tablet(lan_app, "192.168.1.67")
    statuses = [loud.get("/api/session").status_code for _ in range(90)]
    assert statuses.count(429) >= 15
    assert calm.get("/api/session").status_code == 200


def test_no_device_is_let_in_until_somebody_owns_the_shop(empty: Database, tasks: StandInTasks) -> None:
    app = make_app(AppConfig(empty, tasks, b"test", hosts=frozenset({SHOP})))
    tablet = _tablet(app)
    for path in ("/api/session", "/api/board", "/api/people"):
        assert tablet.get(path).json["code"] == "no_owner"
    assert tablet.post("/api/session/owner", json={"name": "Eve", "password": "wet glass"}).json["code"] == "no_owner"
