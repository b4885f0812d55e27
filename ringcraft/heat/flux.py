"""Flux as a thermometer: its stages on the way to the flash, and what is wrong where one is passed over."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.heat.colours import glow_at
from ringcraft.metals import Metal
from ringcraft.schema import name_of
from ringcraft.tables import rows


@dataclass(frozen=True)
class FluxStage:
    """One stage: from which temperature [C], what it looks like, what is wrong where it is skipped.

    ``at`` is the temperature as it is written, ``glow`` the colour of the metal under it in a dim room; ``paper`` and
    ``dim`` are how it is drawn.
    """

    key: str
    title: str
    from_c: float | None
    at: str
    look: str
    skipped: str
    glow: str
    paper: str
    dim: str


KINDS = {row["key"]: row for row in rows("flux", "kind")}
FluxKey = name_of("kind of flux", KINDS, {row["title"]: key for key, row in KINDS.items()})
NO_FLOW = (
    "No flash: the faces are not clean, or the heat is elsewhere. Look where the flux is clear; do not stay on it."
)
NO_FLOW_BARE = (
    "No flash: the faces are not clean, or do not touch, or the heat is elsewhere. Look where it glows brightest."
)


def flux_of(metal: Metal) -> str:
    """The flux that a metal is soldered with where nobody says."""
    return "paste" if metal.of_family.fluxed else "none"


def stages(kind: str, flow_c: float | None, melts_c: float | None = None) -> tuple[FluxStage, ...]:
    """The stages of a flux up to the flash of a solder; without flux the colours of heat alone.

    A solder that flows before the flux is clear ends the strip there: what lies above its flow is left out.
    """
    rows_ = KINDS[kind]["stage"]
    out = [
        FluxStage(
            row["key"], row["title"], row["from_c"], f"{row['from_c']:.0f}", row["look"], row["skipped"],
            glow_at(row["from_c"]).title, row["paper"], row["dim"],
        )
        for row in rows_
        if flow_c is None or row["from_c"] < flow_c - 1
    ]  # fmt: skip
    if not rows_ and flow_c is not None:
        out = _by_colour(flow_c)
    return (*out, _flash(flow_c, melts_c, NO_FLOW if rows_ else NO_FLOW_BARE))


def _by_colour(flow_c: float) -> list[FluxStage]:
    """What is seen where no flux is: the glow, at four heights on the way."""
    out: list[FluxStage] = []
    for share in (0.0, 0.4, 0.6, 0.8):
        glow, from_c = glow_at(max(20.0, share * flow_c)), share * flow_c
        if not any(one.title == glow.title for one in out):
            skipped = "Uneven: the darker side is colder; bring it up before the joint."
            out.append(
                FluxStage(
                    glow.key, glow.title, from_c, f"{max(20.0, from_c):.0f}", "by its glow alone", skipped,
                    glow.title, glow.paper, glow.dim,
                )
            )  # fmt: skip
    return out


def _flash(flow_c: float | None, melts_c: float | None, no_flow: str) -> FluxStage:
    if flow_c is None:
        return FluxStage(
            "flash", "flash", None, "by the maker’s sheet", "a bright line runs right across", no_flow, "", "#e87f2a",
            "#f47a28",
        )  # fmt: skip
    glow = glow_at(flow_c)
    at = f"{flow_c:.0f}" if melts_c is None else f"{melts_c:.0f} to {flow_c:.0f}"
    look = "a bright line runs right across: flame off"
    return FluxStage("flash", "flash", flow_c, at, look, no_flow, glow.title, glow.paper, glow.dim)
