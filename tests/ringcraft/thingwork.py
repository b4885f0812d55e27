"""What a deed does to the thing, by the contract's words alone: places, gap, curves, ends, stones, coats.

It shares no code with the virtual bench: every place is kept as how far it lies from the head's side, or from the
joint, and turned back. A state is the dict that the answer's JSON has.
"""

from __future__ import annotations

import math
from typing import Any

GLASS = ("boric glaze", "flux glass")


def bends(deed: dict[str, Any]) -> bool:
    """Whether a bend is one of a part to a radius."""
    return deed.get("radius_mm") is not None


def thing_after(pieces: dict[str, dict[str, Any]], deed: dict[str, Any]) -> dict[str, dict[str, Any]]:
    """What the thing is after a deed, by the names of the pieces that it changes."""
    op = deed["op"]
    if op == "solder":
        return {deed["into"]: _soldered(pieces, deed)}
    if op == "insert":
        return {deed["piece"]: _set_in(pieces[deed["piece"]], pieces[deed["part"]])}
    if op == "remove":
        ring = pieces[deed["piece"]]
        half, radius = deed["mm"] / 2, _radius(ring)
        out = {"stones": [], "heads": [], "seams": [], "gap": None, "frail": [],
               "curves": [{"from_mm": -half, "to_mm": half, "radius_mm": radius}] if ring["curves"] else []}  # fmt: skip
        return {deed["piece"]: _lost(ring, deed["mm"], radius), deed["part"]: out}
    piece = pieces[deed["piece"]]
    return {deed["piece"]: THINGS.get(op, lambda piece, deed: {})(piece, deed)}


def _radius(piece: dict[str, Any]) -> float:
    return piece["curves"][0]["radius_mm"] if piece["curves"] else math.inf  # type: ignore[no-any-return]


def _away(place: float, mm: float) -> float:
    """A place so much further from nought, on its own side."""
    return place + mm if place > 0 else place - mm if place < 0 else place


def _moved(piece: dict[str, Any], mm: float) -> dict[str, Any]:
    return {
        name: [one if one["at_mm"] is None else {**one, "at_mm": _away(one["at_mm"], mm)} for one in piece[name]]
        for name in ("stones", "heads", "seams")
    }


def _ring(long: float, radius: float, neutral: float) -> dict[str, Any]:
    gap = 2 * math.pi * radius - long
    chord = 2 * (radius - neutral) * math.sin(gap / (2 * radius))
    return {"curves": [{"from_mm": -long / 2, "to_mm": long / 2, "radius_mm": radius}],
            "gap": {"neutral_mm": gap, "chord_mm": chord}}  # fmt: skip


def _lost(piece: dict[str, Any], mm: float, radius: float, through: str = "") -> dict[str, Any]:
    """So much gone at nought, half of it from either side; the rest stands on its curve."""
    kept = {**piece, "seams": [one for one in piece["seams"] if one["key"] != through or not through]}
    out = _moved(kept, -mm / 2)
    return out if math.isinf(radius) else {**out, **_ring(piece["length_mm"] - mm, radius, piece["neutral_mm"])}


def _open(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    around = piece["length_mm"] / (2 * math.pi)
    radius = _radius(piece) if piece["shape"] == "open" else around
    return _lost(piece, deed["takes_mm"], around if math.isinf(radius) else radius, deed["through"])


def _take(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    if deed["op"] == "trim":
        return {}
    if not piece["curves"]:
        return _moved(piece, -deed["takes_mm"] / 2)
    left = piece["length_mm"] - deed["takes_mm"]
    return _lost(piece, deed["takes_mm"], _radius(piece) if piece["shape"] == "open" else left / (2 * math.pi))


def _set_in(ring: dict[str, Any], part: dict[str, Any]) -> dict[str, Any]:
    whole = ring["length_mm"] + part["length_mm"]
    out = {**_moved(ring, part["length_mm"] / 2), "gap": {"neutral_mm": 0.0, "chord_mm": 0.0}}
    if ring["curves"]:
        out["curves"] = _ring(whole, whole / (2 * math.pi), 0.0)["curves"]
    return out


def _bent(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    if not bends(deed):
        return {}
    ring = _ring(piece["length_mm"], deed["radius_mm"], piece["neutral_mm"])
    return ring if piece["gap"] is not None else {"curves": ring["curves"]}


def _rounded(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    if piece["shape"] not in ("closed", "open", "round"):
        return {"gap": None}
    long = piece["length_mm"] + deed["grows_mm"]
    return {"gap": None, "curves": _ring(long, long / (2 * math.pi), 0.0)["curves"]}


def size_seams(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    """A ring brought to a size: all of it gives but its head, whose middle stays opposite."""
    if piece["shape"] == "lapped":
        return {}
    flat = piece["times"] * (math.pi * deed["to_mm"] + piece["beyond_mm"])
    lies = piece["times"] * 2 * math.pi * piece["neutral_mm"] * piece["length_mm"]
    old, new = piece["length_mm"], (flat + math.sqrt(flat**2 + 4 * lies)) / 2
    head = sum(one["span_mm"] for one in piece["heads"])

    def there(place: float) -> float:
        from_head = old / 2 - abs(place)
        if from_head <= head / 2:
            return math.copysign(new / 2 - from_head, place)
        return place * (new - head) / (old - head)

    out: dict[str, Any] = {
        name: [one if one["at_mm"] is None else {**one, "at_mm": there(one["at_mm"])} for one in piece[name]]
        for name in ("stones", "heads", "seams")
    }
    if piece["shape"] == "round":
        out["curves"] = _ring(new, new / (2 * math.pi), 0.0)["curves"]
    return out


def _soldered(pieces: dict[str, dict[str, Any]], deed: dict[str, Any]) -> dict[str, Any]:
    parts = [pieces[name] for name in deed["pieces"]]
    first = parts[0]
    places = {one["key"]: one["at_mm"] for one in first["seams"]} | {deed["joint"]: deed["at_mm"]}
    joined = {key: solder for part in parts for key, solder in part["joined"].items()} | {
        deed["joint"]: deed["solder"]
    }
    if deed["besides"]:
        places[deed["besides"]], joined[deed["besides"]] = deed["besides_mm"], deed["solder"]
    coats = list(dict.fromkeys(coat for part in parts for coat in part["coats"]))
    if all(part["fluxed"] for part in parts) and "flux glass" not in coats:
        coats.append("flux glass")
    return {
        "joined": joined,
        "seams": [{"key": key, "at_mm": places.get(key), "solder": solder} for key, solder in joined.items()],
        "coats": coats,
        "frail": [one for one in first["frail"] if one != "crack"],
        "gap": None,
    }


def _stones(piece: dict[str, Any], which: Any, **now: Any) -> dict[str, Any]:
    return {"stones": [{**one, **now} if which(one) else one for one in piece["stones"]]}


def _coated(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    def after(coats: list[str]) -> list[str]:
        if deed["op"] == "uncoat":
            return [one for one in coats if one != deed["with"]]
        return list(dict.fromkeys([*coats, deed["with"]]))

    if not deed.get("stone"):
        return {"coats": after(piece["coats"])}
    return {"stones": [{**one, "coats": after(one["coats"])} if one["id"] == deed["stone"] else one
                       for one in piece["stones"]]}  # fmt: skip


def _pickled(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    def dips(one: dict[str, Any]) -> bool:
        low = abs(one["at_mm"]) - one["span_mm"] / 2 < piece["length_mm"] / 4
        return bool(one["in"]) and (deed["dips"] == "all" or (deed["dips"] == "shank" and low))

    return {
        "coats": [one for one in piece["coats"] if one not in GLASS],
        "stones": [{**one, "coats": [coat for coat in one["coats"] if coat not in GLASS]} if dips(one) else one
                   for one in piece["stones"]],
    }  # fmt: skip


def _out(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    meant = (lambda one: one["id"] == deed["stone"]) if deed["stone"] else lambda one: one["in"] and not one["loose"]
    return _stones(piece, meant, **{"in": False, "wet": False, "coats": [], "loose": deed["loose"]})


def _back(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    meant = (
        (lambda one: one["id"] == deed["stone"]) if deed["stone"] else lambda one: not one["in"] and not one["loose"]
    )
    return _stones(piece, meant, **{"in": True})


def _wet(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    under = deed["stones"] if deed["water_share"] else []
    return {"stones": [{**one, "wet": bool(one["in"]) and one["id"] in under} for one in piece["stones"]]}


THINGS: dict[str, Any] = {
    "open": _open,
    "saw-joint": _take,
    "file-joint": _take,
    "trim": _take,
    "bend": _bent,
    "close": lambda p, d: {"gap": None if p["gap"] is None else {"neutral_mm": 0.0, "chord_mm": 0.0}},
    "round": _rounded,
    "true": _rounded,
    "size": size_seams,
    "shape-ends": lambda p, d: {"ends": [d["deg"], d["deg"]]},
    "guard": _coated,
    "coat": _coated,
    "uncoat": _coated,
    "pickle": _pickled,
    "unset": _out,
    "unglue": _out,
    "set": _back,
    "glue": _back,
    "wet": _wet,
}
