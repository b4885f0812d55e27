"""What metal is worth: an alloy by what is in it, a jar of scrap by what refining should return of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal

from ringcraft.metals import METALS, Metal
from ringcraft.money.feed import BASES
from ringcraft.money.prices import MetalPrice, Prices, by_metal

#: How elements are called in what a metal is made of.
ELEMENTS = {"Ag": "silver", "Au": "gold", "Pt": "platinum", "Pd": "palladium", "Cu": "copper", "Zn": "zinc",
            "Ni": "nickel", "Ge": "germanium", "Sn": "tin", "Ru": "ruthenium", "Ga": "gallium", "In": "indium",
            "Co": "cobalt", "Ir": "iridium", "W": "tungsten"}  # fmt: skip
PRECIOUS = {sign: name for name, sign in BASES.items()}


def gram_worth(metal: Metal, bases: Mapping[str, Decimal]) -> Decimal | None:
    """What the precious metal in a gram of an alloy costs; None where a price of what it holds is missing.

    What is not precious in it counts nothing: copper and zinc are lost in what a figure is rounded to.
    """
    parts = {PRECIOUS[sign]: share for sign, share in metal.composition.items() if sign in PRECIOUS}
    if not parts or any(name not in bases for name in parts):
        return None
    return sum((bases[name] * Decimal(str(share)) for name, share in parts.items()), Decimal(0))


def with_feed(prices: Prices, bases: Mapping[str, Decimal], said: str) -> Prices:
    """The shop's prices with what a feed gives for metals that it has none of its own for; ``said`` is of when."""
    known = by_metal(prices.metals)
    more = []
    for key, metal in METALS.items():
        gram = None if key in known else gram_worth(metal, bases)
        if gram is not None:
            asked = gram * (1 + Decimal(str(prices.metal_more)))
            more.append(MetalPrice(metal=key, price=f"{asked.quantize(Decimal('0.0001')):f}"))
    return replace(prices, feed=tuple(more), feed_said=said)


def made_of(metal: Metal) -> str:
    """What a metal is made of, in thousandths: 925 silver, 75 copper."""
    parts = sorted(metal.composition.items(), key=lambda part: -part[1])
    return ", ".join(f"{1000 * share:.0f} {ELEMENTS.get(sign, sign)}" for sign, share in parts)


@dataclass(frozen=True)
class Lot:
    """Scrap or filings of one metal [g]: ``clean`` or not, as the drawer has it."""

    metal: str
    grams: float


@dataclass(frozen=True)
class LotWorth:
    """What a lot is worth: the fine metal in it [g], its worth and what refining should return, in the currency.

    ``worth`` and ``returns`` are None where a price of what it holds is missing.
    """

    metal: str
    title: str
    grams: float
    fine_g: float
    made_of: str
    worth: str | None
    returns: str | None
    returns_fine_g: float


@dataclass(frozen=True)
class JarWorth:
    """What the scrap is worth lot by lot, with the sum of what is known; ``missing`` says what has no price."""

    currency: str
    lots: tuple[LotWorth, ...]
    worth: str
    returns: str
    missing: tuple[str, ...]
    says: str


def jar_worth(lots: Sequence[Lot], bases: Mapping[str, Decimal], prices: Prices) -> JarWorth:
    """What scrap and filings are worth by the prices of what is pure, and what a refiner should return of it."""
    step = Decimal(1).scaleb(-prices.decimals)
    kept = 1 - Decimal(str(prices.refiner_keeps))
    out, missing = [], []
    worth, returned = Decimal(0), Decimal(0)
    for lot in sorted((one for one in lots if one.grams > 0), key=lambda one: -one.grams):
        metal = METALS[lot.metal]
        fine = sum(share for sign, share in metal.composition.items() if sign in PRECIOUS) * lot.grams
        gram = gram_worth(metal, bases)
        amounts: tuple[str | None, str | None] = (None, None)
        if gram is not None:
            whole = (gram * Decimal(str(lot.grams))).quantize(step, rounding=ROUND_HALF_UP)
            back = (whole * kept).quantize(step, rounding=ROUND_HALF_UP)
            worth, returned, amounts = worth + whole, returned + back, (str(whole), str(back))
        elif fine:
            missing.append(f"{lot.grams:.2f} g of {metal.title}: no price of what is in it yet")
        out.append(LotWorth(lot.metal, metal.title, lot.grams, fine, made_of(metal), *amounts, fine * float(kept)))
    keeps = f"{100 * prices.refiner_keeps:.3g} %"
    says = f"A refiner that keeps {keeps} should return {returned} {prices.currency} of it, or that much fine metal."
    if not out:
        says = "There is no scrap in the drawer."
    return JarWorth(prices.currency, tuple(out), str(worth), str(returned), tuple(missing), says)
