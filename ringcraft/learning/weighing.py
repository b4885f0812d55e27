"""The odds of causes for what was seen, and which one more measurement would tell most."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ringcraft.learning.causes import CALIPER_SD_MM, CUT_SD_MM, LENGTH_SD_MM, NOTHING_FITS_MM, Atom

Floats = NDArray[np.float64]
_POINTS = 600  # of a reading that is not taken yet


@dataclass(frozen=True)
class Seen:
    """What is known of a ring beside its plan [mm]: how far off it is round, its cut beside the planned one round,
    how much thicker its stock than it is called, how many passes more were sawn. None for what is not known.
    """

    off_mm: float | None
    cut_mm: float | None
    thicker_mm: float | None
    sawn: int | None
    scatter_mm: float
    bias_mm: float


def _density(x: float | Floats, mean: float | Floats, sd: float | Floats) -> Floats:
    return np.asarray(np.exp(-0.5 * ((x - mean) / sd) ** 2) / (sd * math.sqrt(2 * math.pi)), dtype=np.float64)


@dataclass(frozen=True)
class _Columns:
    """What every cause foretells, as columns."""

    cut: Floats
    cut_own: Floats
    later: Floats
    later_own: Floats
    thicker: Floats
    thicker_own: Floats
    error: Floats
    error_own: Floats
    worn: Floats


def _columns(atoms: Sequence[Atom]) -> _Columns:
    def of(name: str) -> Floats:
        return np.array([getattr(atom, name) for atom in atoms], dtype=np.float64)

    return _Columns(
        of("cut_mm"), of("cut_own_mm"), of("later_mm"), of("later_own_mm"), of("thicker_mm"),
        of("thicker_own_mm"), of("error_mm"), of("error_own_mm"), of("worn_mm"),
    )  # fmt: skip


def shares(atoms: Sequence[Atom], seen: Seen) -> Floats:
    """How likely each cause is for what was seen; they add up to 1.

    N(off; shift + bias, sqrt(scatter^2 + own^2)), and where the cut is known N(cut; its shifts) x N(off - cut; the
    later ones); something else is uniform over +-8 mm.
    """
    of = _columns(atoms)
    weights = np.array([atom.prior for atom in atoms], dtype=np.float64)
    plain = np.array(["something-else" not in atom.keys for atom in atoms])
    flat = 1 / (2 * NOTHING_FITS_MM)
    if seen.cut_mm is not None:
        said = _density(seen.cut_mm, of.cut, np.sqrt(CUT_SD_MM**2 + of.cut_own**2))
        weights = weights * np.where(plain, said, flat)
    if seen.off_mm is not None and seen.cut_mm is not None:
        sd = np.sqrt(seen.scatter_mm**2 + of.later_own**2)
        weights = weights * np.where(plain, _density(seen.off_mm - seen.cut_mm, of.later + seen.bias_mm, sd), flat)
    elif seen.off_mm is not None:
        sd = np.sqrt(seen.scatter_mm**2 + of.cut_own**2 + of.later_own**2)
        weights = weights * np.where(plain, _density(seen.off_mm, of.cut + of.later + seen.bias_mm, sd), flat)
    if seen.thicker_mm is not None:
        sd = np.hypot(CALIPER_SD_MM, of.thicker_own)
        read = _density(seen.thicker_mm, of.thicker, sd)
        least = 1e-3 * _density(0.0, 0.0, CALIPER_SD_MM)  # a reading that no cause foretells speaks for none of them
        weights = weights * np.maximum(read, least)
    if seen.sawn is not None:
        sawn = np.array([atom.sawn for atom in atoms])
        weights = weights * (sawn == max(0, seen.sawn))
    total = weights.sum()
    if not total > 0:
        return np.where(plain, 0.0, 1.0)
    return np.asarray(weights / total, dtype=np.float64)


@dataclass(frozen=True)
class Reading:
    """A measurement that could be taken next: what each cause foretells of it [mm], and how much it would tell."""

    key: str
    bits: float
    foretold: tuple[float, ...]


def readings(atoms: Sequence[Atom], seen: Seen, share: Floats) -> list[Reading]:
    """The measurements that are still open, the one that tells most first.

    Thickness by a caliper, the length as it was cut, and the size once more on another gauge.
    """
    of = _columns(atoms)
    plain = np.array(["something-else" not in atom.keys for atom in atoms])
    out: list[Reading] = []
    if seen.thicker_mm is None:
        sd = np.hypot(CALIPER_SD_MM, np.where(plain, of.thicker_own, 0.5))
        out.append(_reading("thickness", of.thicker, sd, share))
    if seen.cut_mm is None and seen.off_mm is not None:
        own = CUT_SD_MM**2 + of.cut_own**2
        rest = seen.scatter_mm**2 + of.later_own**2
        gain = own / (own + rest)
        mean = of.cut + gain * (seen.off_mm - of.cut - of.later - seen.bias_mm)
        sd = np.sqrt(own * (1 - gain) + LENGTH_SD_MM**2)
        mean, sd = np.where(plain, mean, seen.off_mm / 2), np.where(plain, sd, NOTHING_FITS_MM / 2)
        out.append(_reading("cut", mean, sd, share))
    if seen.off_mm is not None:
        rest = seen.scatter_mm**2 + of.cut_own**2 + of.later_own**2 - of.error_own**2
        gain = of.error_own**2 / np.maximum(1e-12, of.error_own**2 + rest)
        left = seen.off_mm - (seen.cut_mm or 0.0) - of.later - (0.0 if seen.cut_mm is not None else of.cut)
        error = of.error + gain * (left - seen.bias_mm)
        sd = np.sqrt(of.error_own**2 * (1 - gain) + LENGTH_SD_MM**2)
        out.append(_reading("size", seen.off_mm - error - of.worn, sd, share))
    return sorted(out, key=lambda one: -one.bits)


def _reading(key: str, mean: Floats, sd: Floats, share: Floats) -> Reading:
    return Reading(key, _information(mean, sd, share), tuple(float(mm) for mm in mean))


def _information(mean: Floats, sd: Floats, share: Floats) -> float:
    """The mutual information [bits] between the cause and a reading of it.

    H(reading) - sum of shares x H(reading | cause), the entropies of normal curves; the mixture's by the trapezium.
    """
    heavy = share > 1e-6
    mean, sd, share = mean[heavy], sd[heavy], share[heavy] / share[heavy].sum()
    grid = np.unique(np.concatenate([_around(m, s) for m, s in zip(mean, sd, strict=True)]))
    if len(grid) > 8 * _POINTS:
        grid = grid[:: len(grid) // (4 * _POINTS)]
    mixed = (share[:, None] * _density(grid[None, :], mean[:, None], sd[:, None])).sum(axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        each = np.where(mixed > 0, -mixed * np.log2(mixed), 0.0)
    whole = float(np.trapezoid(each, grid))
    known = float((share * 0.5 * np.log2(2 * math.pi * math.e * sd**2)).sum())
    return max(0.0, whole - known)


def _around(mean: float, sd: float) -> Floats:
    return np.asarray(np.linspace(mean - 6 * sd, mean + 6 * sd, 61), dtype=np.float64)
