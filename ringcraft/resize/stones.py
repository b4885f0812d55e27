"""What becomes of a ring's stones while it is resized: by kind, treatment, setting and distance from the joint."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ringcraft.resize.asking import SETTINGS, STONES, Stone
from ringcraft.resize.case import Case
from ringcraft.units import capital, words_and

#: Leg from the joint from which a stone is far: under water, or coated; our own judgement.
FAR_MM = 15.0
HARDY, CAREFUL, DELICATE, NEVER = "hardy", "careful", "delicate", "never"
Key = Literal["stay", "shield", "water", "out", "cold"]
#: What is advised of a stone, in words, from the one that needs the most care of those that stay in.
ADVICE: dict[Key, str] = {
    "water": "in water",
    "shield": "shield it",
    "stay": "may stay",
    "cold": "leave it cold",
    "out": "take it out",
}
_BY_WORDS: dict[str, Key] = {words: key for key, words in ADVICE.items()}


@dataclass(frozen=True)
class StoneAdvice:
    """What to do with one stone, why, and where it may not go afterwards. ``leg_mm`` is how far the joint is.

    ``key`` is what decides, ``advice`` the same in words; a plan of before has its words alone.
    """

    kind: str
    title: str
    setting: str
    advice: str
    why: str
    leg_mm: float
    pickle: bool
    ultrasonic: bool
    steam: bool
    stuck: bool
    key: Key | Literal[""] = ""

    @property
    def care(self) -> Key:
        """What is done with it, as a key."""
        return self.key or _BY_WORDS[self.advice]

    @property
    def comes_out(self) -> bool:
        """Whether it is taken out before the torch is lit."""
        return self.care == "out"

    @property
    def is_protected(self) -> bool:
        """Whether it must be kept from the heat in some way that takes time or care."""
        return self.care in ("water", "out")


def leg_mm(case: Case, stone: Stone) -> float:
    """How far [mm] along the new ring a stone's near edge sits from the middle of the cut.

    A stone in the head sits opposite, half the way round less half the head.
    """
    if stone.from_joint_mm is not None:
        return min(stone.from_joint_mm, case.neutral[1] / 2)
    half = math.radians(case.head.angle_deg) / 2 * case.radius[1] if case.head else 0.0
    return max(case.neutral[1] / 2 - half, 0.0)


def _heat(case: Case, stone: Stone, row: Mapping[str, Any]) -> str:
    """What a stone bears, by the shop's own word or ours: one that was treated bears less than its kind."""
    bears = case.order.own.bears(stone.kind) or str(row["heat"])
    return DELICATE if stone.treated and bears in (HARDY, CAREFUL) else bears


def stone_advice(case: Case, torch: bool) -> tuple[StoneAdvice, ...]:
    """The advice for each stone, for a way with or without the torch."""
    return tuple(_one(case, stone, torch) for stone in case.order.stones)


def _one(case: Case, stone: Stone, torch: bool) -> StoneAdvice:
    row, setting = STONES[stone.kind], SETTINGS[stone.setting]
    leg = leg_mm(case, stone)
    heat = _heat(case, stone, row)
    if not torch:
        key, why = _cold(case, row)
    elif stone.glued:
        key, why = _glued(heat)
    else:
        key, why = _in_the_fire(case, heat, leg, row)
    if stone.treated:
        why += "; treated, so it bears less than its kind"
    stuck = key == "out" and (not setting["opens"] or stone.kind == "enamel")
    if stuck:
        why += f"; set in {setting['title']}, it cannot be taken out unharmed"
    return StoneAdvice(
        stone.kind, row["title"], stone.setting, ADVICE[key], capital(why), leg, *_after(stone, row), stuck, key
    )  # fmt: skip


def _after(stone: Stone, row: Mapping[str, Any]) -> tuple[bool, bool, bool]:
    """Where it may go afterwards: pickle, ultrasonic, steam. What is glued or treated stays out of all three."""
    weak = stone.glued or stone.treated
    return bool(row["pickle"]) and not weak, bool(row["ultrasonic"]) and not weak, bool(row["steam"]) and not weak


def _cold(case: Case, row: Mapping[str, Any]) -> tuple[Key, str]:
    if row["knocks"]:
        return "cold", f"no heat comes near it; look at every {case.holds} after"
    return "cold", f"no heat, but {row['why']}: no mallet near it, and look at every {case.holds} after"


def _glued(heat: str) -> tuple[Key, str]:
    if heat == NEVER:
        return "out", "glue lets go in the heat, and the stone bears none"
    return "water", "glue lets go in the heat: covered by water, long legs, seconds of flame, agreed in writing"


def _in_the_fire(case: Case, heat: str, leg: float, row: Mapping[str, Any]) -> tuple[Key, str]:
    far, conducts = leg >= FAR_MM, case.metal.conducts or not case.is_known
    how_far = f"{case.told(leg, '.0f mm')} from the joint"
    if heat == HARDY:
        if far or not conducts:
            return "stay", f"{row['why']}; {how_far}"
        return (
            "shield",
            f"{row['why']}; {how_far}, and {_metal(case, 'brings', 'bring')} all of the ring up together",
        )
    if heat == CAREFUL and far and not conducts:
        return "water", f"{row['why']}; {how_far}: keep it wet"
    water = heat == DELICATE and case.order.delicate_stones == "water"
    if water and far and not conducts:
        return "water", f"{row['why']}; {how_far}, under water all the while"
    return "out", f"{row['why']}{_no_water(case, heat, far, conducts, water)}"


def _metal(case: Case, does: str, may: str) -> str:
    """The metal with what it does, or may do where nobody knows which it is."""
    return f"{case.metal.title} {does if case.is_known else f'may {may}'}"


def _no_water(case: Case, heat: str, far: bool, conducts: bool, water: bool) -> str:
    """Why water does not do, where the shop would have kept it there."""
    if heat == CAREFUL or water:
        if conducts:
            return f"; {_metal(case, 'carries', 'carry')} the heat there, whatever lies in water"
        if not far:
            return "; too near the joint for water"
    return ""


def words_of(stones: Sequence[StoneAdvice]) -> str:
    """Some stones in a sentence: the emerald, the pearl and the opal."""
    names = list(dict.fromkeys(f"the {one.title}" if one.kind != "unknown" else one.title for one in stones))
    return words_and(names)
