"""Figures of the practice glass: a step, an answer with two learners at once, a run as a file.

python benchmarks/practice.py
"""

from __future__ import annotations

import json
import sys
import threading
import time
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path
from statistics import median
from tempfile import TemporaryDirectory
from typing import Any
from uuid import uuid4

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

from elumbra.core.practice import begin, played, score_of, screen_of, shown
from elumbra.demo import demo_password
from tests.catalogue.practice import LESSONS, lesson_board
from tests.e2e.server import running_demo

STEPS_A_SECOND, SECONDS = 10, 30


def model() -> None:
    print("model: every lesson by the robot")
    for lesson in LESSONS:
        board = lesson_board(lesson)
        done = shown(board, seed=1, school=lesson.school)
        again = begin(board, seed=1)
        began = time.perf_counter()
        again = played(again, done.strokes, until=done.run.step)
        step = (time.perf_counter() - began) / again.step
        began = time.perf_counter()
        screen_of(again, every=2)
        seen = time.perf_counter() - began
        rows = json.dumps([stroke.row() for stroke in done.strokes], separators=(",", ":"))
        five = len(rows) * 3000 / done.run.step
        print(
            f"  {lesson.key}: {done.run.step} steps, {score_of(done.run).points} points, step {1000 * step:.2f} ms (aim under 1), "
            f"screen {1000 * seen:.2f} ms, five minutes {five / 1000:.0f} kB of strokes (aim under 200)",
            flush=True,
        )


class Desk:
    def __init__(self, address: str, person: str) -> None:
        self.address = address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.call("POST", "/session", {"person_id": person, "password": demo_password(person)})

    def call(self, method: str, path: str, body: Any = None) -> Any:
        request = urllib.request.Request(
            f"{self.address}/api{path}", method=method, data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "X-Write-Id": uuid4().hex},
        )  # fmt: skip
        with self.opener.open(request, timeout=60) as answer:
            return json.loads(answer.read())


def play(desk: Desk, lesson: str, taken: list[float]) -> None:
    """Ten steps a second for half a minute, a gun and a card going."""
    run = desk.call("POST", "/practice/runs", {"lesson": lesson, "seed": 3})["id"]
    for after, row in enumerate((["wet"], ["lay", "across"], ["h", "across"])):
        desk.call(
            "POST", f"/practice/runs/{run}/strokes", {"after": after, "until": after + 1, "strokes": [[after, *row]]}
        )
    start = time.perf_counter()
    for k in range(STEPS_A_SECOND * SECONDS):
        wait = start + k / STEPS_A_SECOND - time.perf_counter()
        if wait > 0:
            time.sleep(wait)
        step = 3 + k
        x, y = (k * 13) % 500 - 250, (k * 7) % 300 - 150
        body = {"after": step, "until": step + 1, "strokes": [[step, "gun", x, y, 1, 60], [step, "glove", -x, y]]}
        began = time.perf_counter()
        desk.call("POST", f"/practice/runs/{run}/strokes", body)
        taken.append(time.perf_counter() - began)


def answers() -> None:
    print(f"answers: two learners at once, {STEPS_A_SECOND} steps a second each, {SECONDS} s")
    with TemporaryDirectory() as folder, running_demo(Path(folder)) as address:
        desks = [Desk(address, "nils"), Desk(address, "tobi")]
        taken: list[float] = []
        hands = [
            threading.Thread(target=play, args=(desk, lesson, taken))
            for desk, lesson in zip(desks, ("rear_door", "strong_back"), strict=True)
        ]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join()
    taken.sort()
    print(
        f"  {len(taken)} answers: median {1000 * median(taken):.0f} ms, p95 {1000 * taken[int(len(taken) * 0.95)]:.0f} ms "
        f"(aim under 60), worst {1000 * taken[-1]:.0f} ms"
    )


if __name__ == "__main__":
    model()
    answers()
