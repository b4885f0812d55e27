"""What becomes of a ring's stones while it is resized: by what each bears, and what comes to its seat from the seams.

The heat model decides, the same for every metal: what its near edge comes to at most is held against what the stone
bears bare, coated or under water; else it comes out, off its glue, or the way is none.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.planning.joints import Joint
from ringcraft.resize.asking import SETTINGS, STONES, Stone
from ringcraft.resize.case import Case
from ringcraft.resize.places import Cut, goes_out, leg_of, stones_of
from ringcraft.resize.seats import flow_of, is_covered, seat_of, torch_word
from ringcraft.units import capital, words_and
from ringcraft.vbench.thing import BOILS_C, Seat, StoneAt

Key = Literal["stay", "shield", "water", "out", "off", "loose", "cold", "stuck"]
#: What is advised of a stone, in words, from the one that needs the most care of those that stay in.
ADVICE: dict[Key, str] = {
    "stuck": "cannot be kept from the heat",
    "water": "in water",
    "shield": "shield it",
    "stay": "may stay",
    "cold": "leave it cold",
    "out": "take it out",
    "off": "take it off its glue",
    "loose": "out, and handed back loose",
}
_BY_WORDS: dict[str, Key] = {words: key for key, words in ADVICE.items()}
OUT: tuple[Key, ...] = ("out", "off", "loose")
WOULD = "the shop keeps such stones in water, but "


@dataclass(frozen=True)
class StoneAdvice:
    """What to do with one stone, why, and where it may not go afterwards. ``leg_mm`` is how far its near edge is from
    the nearest seam, ``high_c`` what that edge comes to at most there [C], as it is kept; None where no flame is lit.

    ``key`` is what decides, ``advice`` the same in words; a plan of before has its words alone. ``stuck``: it cannot
    be kept in and cannot be taken out unharmed. ``torch``: of one in water, whether a torch of the shop has done it.
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
    id: str = ""
    plate: bool = True
    struck: bool = True
    glued: bool = False
    high_c: float | None = None
    torch: str = ""

    @property
    def care(self) -> Key:
        """What is done with it, as a key."""
        return self.key or _BY_WORDS[self.advice]

    @property
    def comes_out(self) -> bool:
        """Whether it is out of the ring before the torch is lit."""
        return self.care in OUT

    @property
    def name(self) -> str:
        """How it is called in a sentence."""
        return self.id or (f"the {self.title}" if self.kind != "unknown" else self.title)


@dataclass(frozen=True)
class Fire:
    """The heats that a way puts a ring through: each joint's place [mm] and its flow [C], and what it closes at."""

    joints: tuple[tuple[float, float], ...]
    inside_mm: float
    apart_mm: float


def fire_of(case: Case, cut: Cut, joints: Sequence[Joint], beyond_mm: float = 0.0) -> Fire:
    """The heats of a way from its joints; where these could not be worked out, with the metal's own solder.

    ``beyond_mm`` is what saw and file took beyond the plan: it closes so much smaller.
    """
    flows = [(one.at_mm, flow_of(case, one.solder, case.context.book)) for one in joints]
    flows = flows or [(at, flow_of(case, case.metal.solder, case.context.book)) for at in cut.seams]
    together = case.order.join.heats == "together" and len(joints) > 1
    apart = abs(flows[0][0] - flows[1][0]) if together else 0.0
    return Fire(tuple(flows), case.inside[1] - beyond_mm / math.pi, apart)


def stone_advice(case: Case, cut: Cut, fire: Fire) -> tuple[StoneAdvice, ...]:
    """The advice for each stone: ``cut`` is what the way takes where, ``fire`` its heats, none for a cold way."""
    return tuple(
        _one(case, stone, at, cut, fire) for stone, at in zip(case.order.stones, stones_of(case), strict=True)
    )


def _one(case: Case, stone: Stone, at: StoneAt, cut: Cut, fire: Fire) -> StoneAdvice:
    row, setting = STONES[stone.kind], SETTINGS[stone.setting]
    there = replace(at, at_mm=cut.moved(at.at_mm))
    stuck, high, torch = False, None, ""
    if goes_out(at, cut):
        key: Key = "loose"
        why = "its seat goes out with what is cut: cut elsewhere, or it is handed back loose, as agreed on the slip"
    elif not fire.joints:
        key, why = _cold(case, at)
    else:
        kept = _kept(case, stone, there, fire)
        key, why, high, torch, stuck = kept.key, kept.why, kept.high_c, kept.torch, kept.stuck
        if stuck:
            fast = (
                "glued as it is"
                if stone.glued
                else f"set in {setting['title']}"
                if not setting["opens"]
                else "as it is"
            )
            why += f"; {fast}, it cannot be taken out unharmed"
    if stone.treated:
        why += "; treated, so it bears less than its kind"
    bears = at.bears
    return StoneAdvice(
        stone.kind, row["title"], stone.setting, ADVICE[key], capital(why), leg_of(case, at, cut), bears.pickle,
        bears.ultrasonic, bears.steam, stuck, key, at.id, bears.plate, bears.struck, stone.glued, high, torch,
    )  # fmt: skip


def left_as_set(one: StoneAdvice) -> StoneAdvice:
    """A stone of a ring that is not sized for the ring's own sake: it stays as it is set."""
    why = "The ring is not sized, so no heat and no tool comes near it"
    return replace(one, advice=ADVICE["cold"], key="cold", why=why, stuck=False, high_c=None, torch="")


def _cold(case: Case, at: StoneAt) -> tuple[Key, str]:
    if at.bears.struck:
        return "cold", f"no heat comes near it; look at every {case.holds} after"
    why = "it is glued" if at.glued else "it bears no knock"
    return "cold", f"no heat, but {why}: no mallet near it, and look at every {case.holds} after"


@dataclass(frozen=True)
class _Kept:
    """How a stone is kept from the heat: what is done, why, what its edge comes to then [C], by which torch."""

    key: Key
    why: str
    high_c: float | None = None
    torch: str = ""
    stuck: bool = False


def _worst(case: Case, stone: StoneAt, fire: Fire, wet: bool) -> Seat:
    """A stone in the worst of the heats."""
    seats = [seat_of(case, stone, at, flow, fire.inside_mm, wet, fire.apart_mm) for at, flow in fire.joints]
    return max(seats, key=lambda one: one.high_c)


def _kept(case: Case, stone: Stone, there: StoneAt, fire: Fire) -> _Kept:
    """The gentlest that does: bare, coated, out or in water by the school of the shop."""
    row, bears = STONES[stone.kind], there.bears
    dry = _worst(case, there, fire, wet=False)
    why = "glued: the glue lets go at 60 °C, whatever the stone" if stone.glued else str(row["why"])
    comes = f"{why}; {case.told(dry.near_mm, '.0f mm')} from the seam it comes to {dry.high_c:.0f} °C at most, "
    if dry.high_c <= bears.bare_c:
        return _Kept("stay", f"{comes}and bears {bears.bare_c:.0f} °C", dry.high_c)
    if dry.high_c <= bears.coated_c:
        return _Kept("shield", f"{comes}and bears {bears.coated_c:.0f} °C coated", dry.high_c)
    held = _in_water(case, there, fire)
    out = _taken_out(stone, f"{comes}more than it bears, {bears.coated_c:.0f} °C")
    wanted = case.order.delicate_stones == "water" and not stone.glued
    if held.high_c is not None and (out is None or (wanted and held.torch in ("yes", "unsure"))):
        return replace(held, why=f"{why}; {held.why}")
    if out is None:
        return _Kept(
            "stuck", f"{comes}more than it bears, {bears.coated_c:.0f} °C; {held.why}", dry.high_c, stuck=True
        )
    if not wanted:
        return out
    return replace(out, why=f"{out.why}; {WOULD}{held.why}")


def _taken_out(stone: Stone, why: str) -> _Kept | None:
    """How it comes out, if it does: from a setting that opens, or off its glue by a cold soak."""
    if stone.glued:
        soaks = bool(STONES[stone.kind]["unglue"]) and not stone.treated
        off = "the glue is soaked off cold and it is glued anew at the end"
        return _Kept("off", f"{why}: {off}") if soaks else None
    if SETTINGS[stone.setting]["opens"] and stone.kind != "enamel":
        return _Kept("out", why)
    return None


def _in_water(case: Case, there: StoneAt, fire: Fire) -> _Kept:
    """Whether water keeps it: all of it under, no hotter than it bears there, by a torch that has done it."""
    covered = all(is_covered(case, there, at, flow, fire.inside_mm) for at, flow in fire.joints)
    if not covered:
        return _Kept("water", "too near the seam to lie under water")
    wet = _worst(case, there, fire, wet=True)
    bears = there.bears.wet_c
    if wet.high_c > bears:
        boils = (
            "the water boils at its seat, which counts as 100"
            if wet.high_c == BOILS_C
            else (f"no water stays on metal of {wet.high_c:.0f} °C")
        )
        return _Kept("water", f"{boils}, and it bears {bears:.0f} °C under water")
    much = f"in water it takes {wet.against_dry:.1f} times the flame that it takes dry, at most"
    soft = ", and silver slumps sooner" if case.metal.family == "silver" else ""
    torch = torch_word(case, max(flow for _, flow in fire.joints), fire.inside_mm, fire.apart_mm)
    said = {
        "yes": "and a torch of the shop has flowed as much",
        "unsure": "about as much as a torch of the shop has flowed: try it dry first",
        "unknown": "and of no torch it is known that it gives that",
        "no": "more than any torch of the shop has flowed",
    }[torch]
    if torch == "no":
        return _Kept("water", f"{much}{soft}, {said}")
    return _Kept("water", f"{much}{soft}, {said}", wet.high_c, torch)


def words_of(stones: Sequence[StoneAdvice]) -> str:
    """Some stones in a sentence: the emerald, the pearl and the opal."""
    names = list(dict.fromkeys(f"the {one.title}" if one.kind != "unknown" else one.title for one in stones))
    return words_and(names)
