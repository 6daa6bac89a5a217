"""Whatever is done in whatever order: what went stays, no car goes with work unmade, money and film balance."""

from __future__ import annotations

from datetime import timedelta
from random import Random
from typing import Any

from sqlalchemy import text

from elumbra.core.deeds import OPEN, State
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from tests.api.conftest import Desk
from tests.api.test_deeds import done, new_job
from tests.api.test_frozen import CHANGES, of_the_car
from tests.api.test_handover import begin_ready, handover, ready_file, sign
from tests.api.test_jobs import opened
from tests.effort import effort

__all__ = ["ready_file"]

STEPS = 14
STROKES = [[[0.1, 0.5], [0.4, 0.2], [0.8, 0.7]]]


class Played:
    """One job on which things are done at random; what must hold is looked at after each."""

    def __init__(self, desk: Desk, chance: Random) -> None:
        self.desk, self.chance = desk, chance
        self.id = new_job(desk)["id"]
        self.reached: set[str] = set()

    @property
    def job(self) -> Any:
        return self.desk.get(f"/jobs/{self.id}")

    def deed(self) -> None:
        one = self.chance.choice(self.job["next_deeds"])
        bay = {"bay": self.chance.choice(one["bays"])} if one["bays"] else {}
        done(self.desk, self.job, one["deed"], reason="As it came.", **bay)

    def book(self) -> None:
        sheet = self.desk.get(f"/jobs/{self.id}/booking")
        start = (now() + timedelta(days=self.chance.randint(1, 9))).replace(hour=15, minute=0)
        body = {"version": sheet["version"], "job_version": sheet["job_version"],
                "drop_off_at": f"{start.isoformat(timespec='minutes')}:00Z"}  # fmt: skip
        assert self.desk.call("PUT", f"/jobs/{self.id}/booking", body).status_code in (200, 422)

    def film(self) -> None:
        window = self.chance.choice(self.job["windows"])
        film = self.chance.choice([None, "dusk20", "dusk35", "kiln70"])
        body = {"version": window["version"], "film_id": film}
        assert self.desk.call("PATCH", f"/windows/{window['id']}", body).status_code in (200, 422)

    def offer(self) -> None:
        own = [{"words": "Courtesy", "dollars": self.chance.choice([-9.99, 0.01, 12.34])}]
        body = {"own_lines": own if self.chance.random() < 0.5 else []}
        assert self.desk.call("POST", f"/jobs/{self.id}/quotes", body).status_code in (201, 422)

    def accept(self) -> None:
        versions = self.desk.get(f"/jobs/{self.id}/quote")["versions"]
        if versions:
            body = {"version": versions[0]["version"], "name": "R. Alder", "how": "spoken"}
            assert self.desk.call("POST", f"/quotes/{versions[0]['id']}/accept", body).status_code in (200, 422)

    def deliver(self) -> None:
        """A car goes only where nothing holds it."""
        now_ = handover(self.desk, {"id": self.id})
        body = {"version": now_["version"], "name": "R. Alder", "how": "signature", "signature": STROKES}
        answer = self.desk.call("POST", f"/jobs/{self.id}/handover/sign", body)
        filmed = [one for one in self.job["windows"] if one["film_id"]]
        if answer.status_code == 200:
            assert now_["held"] == []
            assert all(one["cut"] for one in filmed), "film that was never cut went with a car"
        else:
            assert answer.status_code == 422, answer.text
        assert not filmed or answer.status_code == 422, "nothing is ever cut here, so no film can have been made"

    def setting(self) -> None:
        self.chance.choice(CHANGES)(self.desk, self.chance)

    def archive(self) -> None:
        job = self.job
        if job["status"] == State.DELIVERED:
            return
        gone = self.desk.do("POST", f"/jobs/{self.id}/remove", {"version": job["version"]})
        self.desk.do("POST", f"/jobs/{self.id}/restore", {"version": gone["version"]})

    def look(self, database: Database) -> None:
        """What must hold after whatever was done."""
        job = self.job
        self.reached.add(job["status"])
        told = [one for one in job["deeds"] if one["state"]]
        assert job["status"] == (told[-1]["state"] if told else State.INQUIRY), "a state follows from deeds"
        assert job["next_deeds"], f"{job['status']} is a dead end"
        quote = self.desk.get(f"/jobs/{self.id}/quote")
        for version in (quote, *quote["versions"]):
            cents = sum(round(100 * one["dollars"]) for one in version["lines"])
            assert cents == round(100 * version["total"])
        with database.session(write=False) as session:
            left = session.execute(text("SELECT sum(count) FROM movement GROUP BY stock_id")).scalars()
            assert min(left) >= 0, "more came off a roll than was on it"


@begin_ready
def test_whatever_is_done_in_whatever_order(desk: Desk, database: Database) -> None:
    gone = opened(desk)
    sign(desk, gone)
    as_it_went = of_the_car(desk, gone)
    reached: set[str] = {desk.get(f"/jobs/{gone['id']}")["status"]}
    for seed in range(effort(5, 200)):
        chance = Random(seed)
        played = Played(desk, chance)
        acts = [played.deed] * 5 + [
            played.book, played.film, played.offer, played.accept, played.deliver, played.setting, played.archive
        ]  # fmt: skip
        for _ in range(STEPS):
            chance.choice(acts)()
            played.look(database)
        reached |= played.reached
        if seed % effort(3, 20) == 0:
            assert of_the_car(desk, gone) == as_it_went, f"sequence {seed}"
    assert of_the_car(desk, gone) == as_it_went
    assert reached == {*map(str, OPEN), State.DELIVERED, State.CANCELLED, State.NO_SHOW}, "every state is reachable"
