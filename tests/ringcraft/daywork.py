"""Random days, and what holds of any plan of one: read off the answer alone, with no code of the heart."""

from __future__ import annotations

import itertools
import random
from typing import Any

FIRE, BESIDE = ("solder", "anneal"), ("flux", "pickle", "rinse")
NEAR = 1e-6
HOURS = (((0, 240), (285, 540)), ((60, 400),), ((0, 100), (130, 220), (300, 480)))
Day = dict[str, Any]


def random_day(seed: int, moves: int = 300) -> Day:
    """One to seven jobs of any steps at a bench of one to three people over six days."""
    rng = random.Random(seed)
    people = [
        {
            "key": "abc"[nth],
            "hours": [[day * 1440 + a, day * 1440 + b] for day in range(6) for a, b in rng.choice(HOURS)],
            "torch": nth == 0 or rng.random() < 0.6,
        }
        for nth in range(rng.randint(1, 3))
    ]
    return {
        "now_min": rng.choice([0, 0, 50, 200]),
        "people": people,
        "torches": rng.choice([1, 1, 2]),
        "light_min": rng.choice([0, 8, 12]),
        "pots": [
            {"key": "pot", "holds": rng.randint(1, 4), "bath": "acid"},
            {"key": "other", "holds": 2, "bath": "nickel"},
        ],
        "tumblers": [{"key": "tumbler", "holds": 2}],
        "jobs": [_job(rng, nth) for nth in range(rng.randint(1, 7))],
        "moves": moves,
        "seed": 1,
    }


def _job(rng: random.Random, nth: int) -> Day:
    return {
        "id": f"J{nth}",
        "due_min": rng.choice([None, rng.randint(30, 2000)]),
        "from_min": rng.choice([None, 0, rng.randint(0, 700)]),
        "weight": rng.choice([1, 1, 2]),
        "steps": [_step(rng, at) for at in range(rng.randint(1, 8))],
    }


def _step(rng: random.Random, at: int) -> Day:
    kind = rng.choice(["work", "file", "tumble", "glue", *FIRE, *BESIDE])
    waits = kind in ("pickle", "glue", "tumble", "solder")
    return {
        "key": f"s{at}",
        "kind": kind,
        "hands_min": rng.choice([0, 1, 2, 4, 6, 10, 20, 35]),
        "wait_min": rng.choice([0, 0, 3, 15, 60, 240]) if waits else 0,
        "bath": rng.choice([None, "acid", "nickel"]) if kind == "pickle" else None,
    }


class Checked:
    """A plan, looked through: ``wrong`` is all that cannot be."""

    def __init__(self, day: Day, out: Day) -> None:
        self.day, self.out, self.wrong = day, out, []
        self.now = day.get("now_min", 0)
        self.jobs = {job["id"]: job for job in day["jobs"]}
        self.starts = {(one["job"], one["step"]): one for one in out["starts"]}
        self.begun = {(one["job"], one["step"]) for one in day.get("begun", [])}
        self.hours = {one["key"]: one.get("hours") or [[one["from_min"], one["to_min"]]] for one in day["people"]}
        self.ends = {task: self._ends(task) for task in self.starts}
        self._steps()
        self._hands()
        self._vessels()
        self._sessions()

    def step(self, task: tuple[str, int]) -> Day:
        found: Day = self.jobs[task[0]]["steps"][task[1]]
        return found

    def _ends(self, task: tuple[str, int]) -> float:
        ends: float = self.starts[task]["at_min"] + self.step(task)["hands_min"]
        return max(ends, self.now + 1) if task in self.begun else ends

    def _inside(self, person: str, begins: float, ends: float) -> bool:
        return any(a - NEAR <= begins and ends <= b + NEAR for a, b in self.hours[person])

    def _steps(self) -> None:
        for (job, nth), start in self.starts.items():
            at = start["at_min"]
            if (job, nth) not in self.begun:
                early = at < self.now - NEAR or at < (self.jobs[job].get("from_min") or -1e9) - NEAR
                if early or not self._inside(start["person"], at, self.ends[job, nth]):
                    self.wrong.append(("hours", job, nth, at))
            before = (job, nth - 1)
            if before in self.starts and self.ends[before] + self.step(before)["wait_min"] > at + NEAR:
                self.wrong.append(("its wait", job, nth, at))

    def _hands(self) -> None:
        for person in self.hours:
            rows = [
                (start["at_min"], self.ends[task], *task)
                for task, start in self.starts.items()
                if start["person"] == person and self.ends[task] > start["at_min"]
            ]
            rows += [
                (one["from_min"], one["lit_min"], "lights", 0)
                for one in self.out["sessions"]
                if one["person"] == person
            ]
            rows.sort()
            for one, other in itertools.pairwise(rows):
                if one[1] > other[0] + NEAR:
                    self.wrong.append(("two places", person, one, other))

    def _vessels(self) -> None:
        for kind, vessels in (("pickle", self.day["pots"]), ("tumble", self.day.get("tumblers", []))):
            for bath in {one.get("bath") for one in vessels}:
                inside = [
                    (start["at_min"], self.ends[task] + self.step(task)["wait_min"])
                    for task, start in self.starts.items()
                    if self.step(task)["kind"] == kind
                    and (kind == "tumble" or (self.step(task).get("bath") or vessels[0]["bath"]) == bath)
                ]
                if most(inside) > sum(one["holds"] for one in vessels if one.get("bath") == bath):
                    self.wrong.append((kind, bath))

    def _sessions(self) -> None:
        sessions = self.out["sessions"]
        if most([(one["from_min"], one["to_min"]) for one in sessions]) > self.day.get("torches", 1):
            self.wrong.append(("torches",))
        for task, start in self.starts.items():
            if self.step(task)["kind"] in FIRE and task not in self.begun:
                lit = [one for one in sessions if one["person"] == start["person"]
                       and one["lit_min"] <= start["at_min"] + NEAR and self.ends[task] <= one["to_min"] + NEAR]  # fmt: skip
                if len(lit) != 1:
                    self.wrong.append(("no torch", *task))
        for one in sessions:
            self._session(one)

    def _session(self, one: Day) -> None:
        shown = [x["flame_min"] for x in self.day.get("sessions", []) if x["person"] == one["person"]
                 and x["from_min"] == one["from_min"] and x.get("flame_min") is not None]  # fmt: skip
        last = max([one["lit_min"], *shown])
        mine = [(start["at_min"], self.ends[task], self.step(task)["kind"], task)
                for task, start in self.starts.items() if start["person"] == one["person"]]  # fmt: skip
        for begins, ends, kind, task in sorted(mine):
            if kind in FIRE and one["lit_min"] - NEAR <= begins <= one["to_min"] + NEAR:
                if begins > last + 30 + NEAR:
                    self.wrong.append(("half an hour without flame", *task))
                last = ends
            other = kind not in FIRE and kind not in BESIDE and ends > begins and task not in self.begun
            if other and begins < one["to_min"] - NEAR and ends > one["from_min"] + NEAR:
                self.wrong.append(("other work beside a lit torch", *task))
        if one["from_min"] >= self.now and not self._inside(one["person"], one["from_min"], one["to_min"]):
            self.wrong.append(("a torch after hours", one))


def most(spans: list[tuple[float, float]]) -> int:
    """How many of these are there at once at most."""
    return max((sum(a <= at + NEAR and b > at + NEAR for a, b in spans) for at, _ in spans), default=0)


def on_time(day: Day, out: Day, rng: random.Random) -> Day | None:
    """The same day once an early step has ended as planned: what ended is done, what runs has begun."""
    jobs = {job["id"]: job for job in day["jobs"]}
    length = {(s["job"], s["step"]): jobs[s["job"]]["steps"][s["step"]]["hands_min"] for s in out["starts"]}
    ends = sorted(s["at_min"] + length[s["job"], s["step"]] for s in out["starts"])
    if not ends:
        return None
    now = max(rng.choice(ends[:6]), day["now_min"])
    later: Day = {**day, "now_min": now, "jobs": [], "begun": [], "before": []}
    for job in day["jobs"]:
        rows = sorted((s for s in out["starts"] if s["job"] == job["id"]), key=lambda s: s["step"])
        done = [s for s in rows if s["at_min"] + length[s["job"], s["step"]] <= now]
        gone, steps, free = len(done), list(job["steps"]), job.get("from_min")
        if done:
            last, ended = steps[gone - 1], done[-1]["at_min"] + length[done[-1]["job"], done[-1]["step"]]
            if last["wait_min"] and last["kind"] in ("pickle", "tumble") and ended + last["wait_min"] > now:
                left = max(0, ended + last["wait_min"] - now - 1)
                steps[gone - 1] = {**last, "hands_min": 0, "wait_min": left}
                gone -= 1
                later["begun"].append({"job": job["id"], "step": 0, "at_min": now})
            else:
                free = max(ended + last["wait_min"], free or 0)
        for one in rows:
            if one["step"] < gone or one in done:
                continue
            moved = {**one, "step": one["step"] - gone}
            later["begun" if one["at_min"] < now else "before"].append(moved)
        if steps[gone:]:
            later["jobs"].append({**job, "steps": steps[gone:], "from_min": free})
        else:
            later["begun"] = [one for one in later["begun"] if one["job"] != job["id"]]
    later["sessions"] = [{**one, "flame_min": _used(day, out, one, now)} for one in out["sessions"]]
    return later


def _used(day: Day, out: Day, session: Day, now: float) -> float:
    jobs = {job["id"]: job for job in day["jobs"]}
    used = [session["lit_min"]]
    for one in out["starts"]:
        step = jobs[one["job"]]["steps"][one["step"]]
        if one["person"] == session["person"] and step["kind"] in FIRE and session["lit_min"] <= one["at_min"] < now:
            used.append(one["at_min"] + step["hands_min"])
    return float(max(used))
