"""An estimate: what a plan costs by the shop's prices, line by line, each with what it is reckoned from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal

from ringcraft.metals import ALL_METALS, UNKNOWN_METAL
from ringcraft.money.prices import Prices, by_metal
from ringcraft.work.plan import WorkPlan


@dataclass(frozen=True)
class EstimateLine:
    """One line: what it is for, the amount in the shop's currency as text, and what it is reckoned from."""

    key: str
    title: str
    amount: str
    why: str


@dataclass(frozen=True)
class Estimate:
    """What the work costs. ``missing`` says what has no price yet and is not in the sum."""

    metal: str
    currency: str
    lines: tuple[EstimateLine, ...]
    total: str
    missing: tuple[str, ...]


@dataclass(frozen=True)
class _Sum:
    key: str
    title: str
    amount: Decimal
    why: str


def estimate_of(plan: WorkPlan, prices: Prices) -> Estimate:
    """What a plan costs. Each line is rounded, so that what is printed adds up to the total."""
    step = Decimal(1).scaleb(-prices.decimals)

    def rounded(amount: Decimal) -> Decimal:
        return amount.quantize(step, rounding=ROUND_HALF_UP)

    missing: list[str] = []
    sums = list(_sums(plan, prices, missing))
    total = sum((rounded(one.amount) for one in sums), Decimal(0))
    lines = tuple(EstimateLine(one.key, one.title, str(rounded(one.amount)), one.why) for one in sums)
    return Estimate(plan.metal.title, prices.currency, lines, str(rounded(total)), tuple(missing))


def as_asked(estimate: Estimate) -> Estimate:
    """An estimate as the customer is asked: its sums by line, and nothing of what they are reckoned from.

    >>> as_asked(Estimate("silver", "EUR", (EstimateLine("work", "work", "40.00", "60 minutes"),), "40.00", ())).lines
    (EstimateLine(key='work', title='work', amount='40.00', why=''),)
    """
    return replace(estimate, lines=tuple(replace(line, why="") for line in estimate.lines))


def _sums(plan: WorkPlan, prices: Prices, missing: list[str]) -> Iterator[_Sum]:
    yield from _metal(plan, prices, missing)
    if plan.joints and prices.solder:
        count = len(plan.joints)
        joints = "one joint" if count == 1 else f"{count} joints"
        yield _Sum("solder", "solder", count * _exact(prices.solder), joints)
    minutes = sum(step.hands_min for step in plan.route)
    if prices.hour:
        yield _Sum("work", "work", _exact(minutes) * _exact(prices.hour) / 60,
                   f"{minutes:.0f} minutes of hands at {prices.hour:g} an hour")  # fmt: skip
    else:
        missing.append(f"{minutes:.0f} minutes of hands: the shop has no rate for an hour yet")
    stones = plan.stones_set()
    if stones:
        said = "one stone set again" if stones == 1 else f"{stones} stones set again"
        if prices.setting:
            yield _Sum("setting", "setting", stones * _exact(prices.setting), said)
        else:
            missing.append(f"{said}: the shop has no price for setting yet")
    if plan.is_plated():
        if prices.plating:
            yield _Sum("plating", "plating", _exact(prices.plating), "plated after")
        else:
            missing.append("plating: the shop has no price for it yet")


def _metal(plan: WorkPlan, prices: Prices, missing: list[str]) -> Iterator[_Sum]:
    """Metal that is added as it is cut, and metal that the shop keeps and credits."""
    for key, grams in grams_by_metal(plan).items():
        yield from _of_metal(
            "metal" if key == plan.metal.key else f"metal-{key}", "metal", key, grams, prices, missing
        )
    credited = plan.credited_g()
    if credited:
        yield from _of_metal("credit", "metal credited", plan.metal.key, -credited, prices, missing)


def grams_by_metal(plan: WorkPlan) -> dict[str, float]:
    """What a plan's blanks weigh as they are cut [g], by metal: a part for a top can have its own."""
    out: dict[str, float] = {}
    for blank in plan.blanks:
        key = blank.metal or plan.metal.key
        out[key] = out.get(key, 0.0) + blank.mass_g * blank.count
    return out


def _of_metal(key: str, title: str, metal: str, grams: float, prices: Prices, missing: list[str]) -> Iterator[_Sum]:
    """Some grams of a metal, credited below nought."""
    if metal == UNKNOWN_METAL:
        missing.append("metal: nobody knows yet what it is made of")
        return
    name, said = ALL_METALS[metal].title, ""
    price = by_metal(prices.metals).get(metal)
    if price is None and (price := by_metal(prices.feed).get(metal)) is not None:
        said = f", {prices.feed_said}"
    if price is None:
        missing.append(f"{abs(grams):.2f} g of {name}: the shop has no price for a gram of it yet")
        return
    stays = " that stay here," if grams < 0 else ""
    yield _Sum(key, title, _exact(round(grams, 2)) * price, f"{abs(grams):.2f} g of {name}{stays} at {price}{said}")


def _exact(value: float) -> Decimal:
    return Decimal(str(value))
