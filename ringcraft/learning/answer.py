"""What the record has learnt, group by group: with how sure it is, and what it would change."""

from __future__ import annotations

import math
from collections.abc import Sequence, Set
from dataclasses import dataclass
from statistics import median

from ringcraft.learning.asking import LEARN, LearnRequest, RingMiss
from ringcraft.learning.drift import shift_of
from ringcraft.learning.pooling import Mixture, pool, sums_of
from ringcraft.planning.own import closes_words
from ringcraft.schema import read_request
from ringcraft.units import Length, capital, day_words

LEAST_RINGS = 5
MATTERS_MM, SURE = 0.1, 0.99  # round: less is in the cutting; our own judgement
GROSS_MM, GROSS_MADS, MAD_TO_SD, MEDIAN_OF = 1.2, 4.0, 1.4826, 4


@dataclass(frozen=True)
class LearntGroup:
    """What one group of rings closes large by [mm round], and between which bounds with 95 %.

    ``n`` rings count, ``set_aside`` were gross misses; ``suggest``: it is sure enough to be offered in place of what
    is ``in_force_mm``, as ``offer_mm`` (0: what is in force is taken back). ``says`` is empty where there are too few
    to say anything; ``found`` is that without the offer, ``lead`` and ``between`` are for a screen.
    """

    group: str
    n: int
    set_aside: int
    mean_mm: float
    sd_mm: float
    low_mm: float
    high_mm: float
    in_force_mm: float
    suggest: bool
    offer: str
    offer_mm: float
    lead: str
    between: str
    found: str
    says: str


@dataclass(frozen=True)
class Drift:
    """A gauge or a group that reads otherwise than it did, since which day, by how much [mm round]."""

    gauge: str
    group: str
    since: str
    mm: float
    says: str


@dataclass(frozen=True)
class Learnt:
    """What the record says: every group, the scatter of one ring, which misses were set aside, what drifts."""

    groups: tuple[LearntGroup, ...]
    scatter_mm: float
    outliers: tuple[int, ...]
    drift: tuple[Drift, ...]


def learn(data: object) -> Learnt:
    """What a shop's rings teach, from plain JSON data; raises BadRequest."""
    return answer_learn(read_request(LEARN, data))


def answer_learn(asked: LearnRequest, gross: Set[int] | None = None) -> Learnt:
    """What a shop's rings teach; ``gross`` are the misses that were set aside by another look at the same rings."""
    names = list(dict.fromkeys([*asked.groups, *(one.group for one in asked.misses), *asked.in_force]))
    places: dict[str, list[int]] = {name: [] for name in names}
    for at, one in enumerate(asked.misses):
        places[one.group].append(at)
    aside = gross_misses(asked.misses) if gross is None else gross
    kept = {name: [asked.misses[at].mm for at in places[name] if at not in aside] for name in names}
    pooled = pool([sums_of(kept[name]) for name in names])
    groups = tuple(
        _group(asked, name, (len(kept[name]), len(places[name])), own)
        for name, own in zip(names, pooled.groups, strict=True)
    )
    return Learnt(groups, pooled.scatter_mm, tuple(sorted(aside)), drifts(asked, places, aside))


def gross_misses(misses: Sequence[RingMiss]) -> set[int]:
    """The places of misses that are no scatter: a wrong scale, a thickness forgotten. They go to diagnosis.

    Further than the larger of 1.2 mm round and four robust standard deviations from the median of a group of four or
    more, else from that of all.
    """
    out: set[int] = set()
    places: dict[str, list[int]] = {}
    for at, one in enumerate(misses):
        places.setdefault(one.group, []).append(at)
    every = [one.mm for one in misses]
    for mine in places.values():
        base = [misses[at].mm for at in mine] if len(mine) >= MEDIAN_OF else every
        if not base:
            continue
        middle = median(base)
        mad = median(abs(mm - middle) for mm in base)
        reach = max(GROSS_MM, GROSS_MADS * MAD_TO_SD * mad)
        out |= {at for at in mine if abs(misses[at].mm - middle) > reach}
    return out


def _group(asked: LearnRequest, name: str, counts: tuple[int, int], own: Mixture) -> LearntGroup:
    """A group, of whose rings the first count is kept of the second."""
    n, aside, in_force = counts[0], counts[1] - counts[0], asked.in_force.get(name, 0.0)
    low, high = own.quantile(0.025), own.quantile(0.975)
    sure = own.further(in_force, MATTERS_MM) >= SURE
    suggest = n >= LEAST_RINGS and not low <= in_force <= high and sure
    found = says = offer = ""
    if n >= LEAST_RINGS:
        found, says, offer = _says(name, n, own.mean, (low, high), in_force, suggest, asked.units)
    lead, between = _parts(n, own.mean, (low, high), asked.units)
    return LearntGroup(
        name, n, aside, own.mean, own.sd, low, high, in_force, suggest, offer,
        offered_mm(own.mean), lead, between, found, says,
    )  # fmt: skip


def _parts(n: int, mean: float, bounds: tuple[float, float], units: str) -> tuple[str, str]:
    """What leads on a screen, and between what it lies."""
    if n < LEAST_RINGS:
        more = LEAST_RINGS - n
        many = "No ring counts yet" if not n else f"{n} {'ring' if n == 1 else 'rings'}"
        return f"{many}.", f"{more} more before anything is said of them."
    low, high = (_signed(mm, units) for mm in bounds)
    if abs(mean) < 0.005:
        return "They close true.", f"95 in a hundred: between {low} and {high} round."
    inside = f"{Length(abs(mean) / math.pi, units):.2f}"
    much = f"{Length(abs(mean), units):.2f} {'large' if mean > 0 else 'small'}"
    return f"They close {much}.", f"95 in a hundred: between {low} and {high} round; {inside} inside."


def offered_mm(mean: float) -> float:
    """The correction that a mean comes to [mm round], to a hundredth; nought where it would not matter."""
    return 0.0 if abs(mean) < MATTERS_MM else round(mean, 2)


def _says(
    name: str, n: int, mean: float, bounds: tuple[float, float], in_force: float, suggest: bool, units: str
) -> tuple[str, str, str]:
    """What a group's rings say, that with what follows, and what is offered."""
    figure = closes_words(mean, units)
    low, high = (_signed(mm, units) for mm in bounds)
    said = f"{capital(name)} closes {figure} ({n} rings, 95 % between {low} and {high})"
    if not suggest:
        held = f"as the {_signed(in_force, units)} in force has it" if in_force else "nothing to change yet"
        return said, f"{said}: {held}.", ""
    offer = offer_words(mean, in_force, units)
    return said, f"{said}: {offer}.", offer


def offer_words(mean: float, in_force: float, units: str) -> str:
    """What is done about it: cut shorter or longer by as much, than now where a correction is in force."""
    change = mean - in_force
    how = "shorter" if change > 0 else "longer"
    if in_force and abs(mean) < MATTERS_MM:
        return f"take the correction of {_signed(in_force, units)} back"
    than = " than now" if in_force else ""
    return f"cut {Length(abs(change), units):.{1 if abs(change) >= 0.25 and units == 'mm' else 2}f} {how}{than}"


def _signed(mm: float, units: str) -> str:
    return f"{'−' if mm < 0 else ''}{Length(abs(mm), units):.2f}"


def drifts(asked: LearnRequest, places: dict[str, list[int]], aside: Set[int]) -> tuple[Drift, ...]:
    """The gauges and groups that read otherwise than they did; a group is told only where no gauge explains it."""
    order = [at for at in _in_time(asked.misses) if at not in aside]
    gauges: dict[tuple[str, str], list[int]] = {}
    for at in order:
        one = asked.misses[at]
        if one.gauge:
            gauges.setdefault((one.gauge, one.calibrated), []).append(at)
    newest = dict(gauges.keys())  # of a gauge calibrated twice, as it stands now
    out: list[Drift] = []
    explained: set[int] = set()
    for (gauge, calibrated), mine in gauges.items():
        shift = shift_of(asked.misses, mine) if newest[gauge] == calibrated else None
        if shift:
            since = mine[mine.index(shift.first) :]
            explained.update(since)
            of = {asked.misses[at].group for at in since}
            named = gauge if gauge.startswith("the ") else f"the {gauge}"
            what = f"everything on {named}" if len(of) > 1 else f"{next(iter(of))} on {named}"
            out.append(_drift(asked, gauge, "", shift.first, shift.mm, f"{what} reads", "calibrate it"))
    for name in places:
        mine = [at for at in order if asked.misses[at].group == name and at not in explained]
        shift = shift_of(asked.misses, mine)
        if shift:
            then = "look at the stock, the saw and the mallet"
            out.append(_drift(asked, "", name, shift.first, shift.mm, f"{name} closes", then))
    return tuple(out)


def _in_time(misses: Sequence[RingMiss]) -> list[int]:
    """The places of misses by their day; those without one keep their turn."""
    if not all(one.at for one in misses):
        return list(range(len(misses)))
    return sorted(range(len(misses)), key=lambda at: (misses[at].at, at))


def _drift(asked: LearnRequest, gauge: str, group: str, first: int, mm: float, what: str, then: str) -> Drift:
    since = asked.misses[first].at
    much = f"{Length(abs(mm), asked.units):.2f} round {'larger' if mm > 0 else 'smaller'} than before"
    begins = f"Since {day_words(since)} {what}" if since else f"Of late {what}"
    return Drift(gauge, group, since, mm, f"{begins} {much}: {then}.")
