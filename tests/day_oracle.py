"""A constraint solver's own reading of `day` in the contract: the best that can be had, and what bounds it.

It shares no code with the heart. OR-tools' CP-SAT is a test's dependency only.
"""

from __future__ import annotations

import random
from typing import Any

FLAME, BESIDE = ("solder", "anneal"), ("flux", "pickle", "rinse")
GAP = 30


def day_of(seed: int) -> dict[str, Any]:
    """A day of five jobs of six to eight steps at a bench of one or two people, by its seed."""
    rng = random.Random(seed)
    jobs = []
    for nth in range(5):
        steps = [_step(rng, at) for at in range(rng.randint(6, 8))]
        work = sum(one["hands_min"] + one["wait_min"] for one in steps)
        # two press, the others have time: with all five pressing no solver proves its best within the minute
        due = round(work * (rng.uniform(0.4, 1.0) if nth < 2 else rng.uniform(2.0, 4.0)))
        jobs.append({"id": f"J{nth}", "due_min": due, "weight": rng.choice([1, 1, 2]), "steps": steps})
    people = [
        {"key": "ab"[nth], "hours": [[0, 240], [285, 540]], "torch": nth == 0 or rng.random() < 0.6}
        for nth in range(1 + seed % 2)
    ]
    pots = [{"key": "pot", "holds": rng.choice([1, 2, 4]), "bath": "acid"}]
    return {"people": people, "torches": 1, "light_min": 8, "pots": pots, "jobs": jobs, "moves": 20000, "seed": 0}


def _step(rng: random.Random, at: int) -> dict[str, Any]:
    kind = rng.choice(["work", "work", "work", "solder", "anneal", "pickle", "flux", "rinse"])
    hands = rng.randint(2, 18) if kind == "work" else rng.randint(1, 7)
    wait = {"solder": rng.choice([0, 3, 5]), "anneal": 3, "pickle": rng.choice([10, 15, 20])}.get(kind, 0)
    return {"key": f"s{at}", "kind": kind, "hands_min": hands, "wait_min": wait}


def solve(day: dict[str, Any], seconds: float, workers: int = 2) -> dict[str, Any]:
    """The best plan of a day with whole minutes: its objective, its weighted late minutes, and the solver's bound."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    built = _Model(model, day)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = workers
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return {"proven": False}
    return {
        "proven": status == cp_model.OPTIMAL,
        "objective": round(solver.objective_value),
        "bound": round(solver.best_objective_bound),
        "late": solver.value(built.late),
        "sessions": solver.value(built.sessions),
        "last": solver.value(built.last),
    }


class _Model:
    def __init__(self, model: Any, day: dict[str, Any]) -> None:
        self.m, self.day = model, day
        self.horizon = max(b for p in day["people"] for _, b in p["hours"])
        self.light = day["light_min"]
        self.start: dict[tuple[int, int], Any] = {}
        self.by: dict[tuple[int, int, int], Any] = {}
        self.hands: list[list[Any]] = [[] for _ in day["people"]]
        self.alone: list[list[Any]] = [[] for _ in day["people"]]
        self.lightings: list[Any] = []
        self.covers: list[Any] = []
        self._steps()
        for who in range(len(day["people"])):
            self._flames(who)
            closed = self._closed(who)
            model.add_no_overlap(self.hands[who] + closed)
            model.add_no_overlap(self.alone[who] + closed)
        self._vessels()
        model.add_cumulative(self.covers, [1] * len(self.covers), day["torches"])
        self._objective()

    def _steps(self) -> None:
        m = self.m
        for job, row in enumerate(self.day["jobs"]):
            for step, one in enumerate(row["steps"]):
                at = m.new_int_var(0, self.horizon, f"s{job}_{step}")
                self.start[job, step] = at
                if step:
                    before = row["steps"][step - 1]
                    m.add(at >= self.start[job, step - 1] + before["hands_min"] + before["wait_min"])
                flame = one["kind"] in FLAME
                able = [w for w, p in enumerate(self.day["people"]) if p["torch"] or not flame]
                for who in able:
                    mine = m.new_bool_var("")
                    self.by[job, step, who] = mine
                    span = m.new_optional_fixed_size_interval_var(at, one["hands_min"], mine, "")
                    self.hands[who].append(span)
                    if not flame and one["kind"] not in BESIDE:
                        self.alone[who].append(span)
                m.add_exactly_one(self.by[job, step, who] for who in able)

    def _closed(self, who: int) -> list[Any]:
        spans, at = [], 0
        for begins, ends in self.day["people"][who]["hours"]:
            if begins > at:
                spans.append(self.m.new_fixed_size_interval_var(at, begins - at, ""))
            at = ends
        spans.append(self.m.new_fixed_size_interval_var(at, 100_000 - at, ""))
        return spans

    def _flames(self, who: int) -> None:
        """One person's flames in a row: each goes on from the one before, or lights the torch anew."""
        m = self.m
        mine = [key for key in self.by if key[2] == who and self._kind(key) in FLAME]
        if not mine:
            return
        arcs = [(0, 0, m.new_bool_var(""))]
        news = []
        for node, key in enumerate(mine, 1):
            at, ends = self.start[key[:2]], self.start[key[:2]] + self._hands(key)
            new, lights, begins = (
                m.new_bool_var(""),
                m.new_int_var(0, self.horizon, ""),
                m.new_int_var(0, self.horizon, ""),
            )
            m.add(lights + self.light <= at).only_enforce_if(new)
            m.add(at <= lights + self.light + GAP).only_enforce_if(new)
            m.add(begins == lights).only_enforce_if(new)
            m.add_implication(new, self.by[key])
            lighting = m.new_optional_fixed_size_interval_var(lights, self.light, new, "")
            self.hands[who].append(lighting)
            self.lightings.append(new)
            length = m.new_int_var(0, self.horizon, "")
            cover = m.new_optional_interval_var(begins, length, ends, self.by[key], "")
            self.alone[who].append(cover)
            self.covers.append(cover)
            arcs += [(node, node, self.by[key].negated()), (node, 0, m.new_bool_var(""))]
            first = m.new_bool_var("")
            arcs.append((0, node, first))
            m.add_implication(first, new)
            news.append((node, key, new, begins))
        for node, key, new, begins in news:
            for other, before in enumerate(mine, 1):
                if other == node:
                    continue
                follows = m.new_bool_var("")
                arcs.append((other, node, follows))
                ended = self.start[before[:2]] + self._hands(before)
                m.add(self.start[key[:2]] >= ended).only_enforce_if(follows)
                goes_on = [follows, new.negated()]
                m.add(self.start[key[:2]] <= ended + GAP).only_enforce_if(goes_on)
                m.add(begins == ended).only_enforce_if(goes_on)
        m.add_circuit(arcs)

    def _kind(self, key: tuple[int, int, int]) -> str:
        return str(self.day["jobs"][key[0]]["steps"][key[1]]["kind"])

    def _hands(self, key: tuple[int, int, int]) -> int:
        return int(self.day["jobs"][key[0]]["steps"][key[1]]["hands_min"])

    def _vessels(self) -> None:
        spans = [
            self.m.new_fixed_size_interval_var(self.start[job, step], one["hands_min"] + one["wait_min"], "")
            for job, row in enumerate(self.day["jobs"])
            for step, one in enumerate(row["steps"])
            if one["kind"] == "pickle"
        ]
        self.m.add_cumulative(spans, [1] * len(spans), self.day["pots"][0]["holds"])

    def _objective(self) -> None:
        m, far = self.m, self.horizon + 1000
        self.late, self.last = m.new_int_var(0, far * 20, ""), m.new_int_var(0, far, "")
        lates = []
        for job, row in enumerate(self.day["jobs"]):
            step = len(row["steps"]) - 1
            ends = self.start[job, step] + row["steps"][step]["hands_min"] + row["steps"][step]["wait_min"]
            late = m.new_int_var(0, far, "")
            m.add(late >= ends - row["due_min"])
            m.add(self.last >= ends)
            lates.append(row["weight"] * late)
        m.add(self.late == sum(lates))
        self.sessions = m.new_int_var(0, 100, "")
        m.add(self.sessions == sum(self.lightings))
        m.minimize(1000 * self.late + 60 * self.sessions + self.last)
