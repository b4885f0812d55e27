"""A route worked again from its `does` alone, with arithmetic of its own: it shares no code with the virtual bench.

It follows the contract's table of ops. A state is the dict that the answer's JSON has; only what an op is said to do is
done. Where it and the answer's `after` part, one of them is wrong.
"""

from __future__ import annotations

import math
from typing import Any

from tests.ringcraft.thingwork import bends, thing_after

State = dict[str, dict[str, Any]]
ROUND = ("closed", "round", "vee", "lapped")


def inside(piece: dict[str, Any]) -> float:
    """The inside diameter [mm] at which a piece's length goes round."""
    once = piece["length_mm"] / piece["times"] - piece["beyond_mm"]
    return once / math.pi - 2 * piece["neutral_mm"]


def replay(start: State, does: list[dict[str, Any]]) -> State:
    """The pieces after a list of deeds."""
    pieces = {name: dict(piece) for name, piece in start.items()}
    for deed in does:
        things = thing_after(pieces, deed)
        if deed["op"] == "solder":
            _solder(pieces, deed)
        elif deed["op"] == "insert":
            _insert(pieces, deed)
        elif deed["op"] == "remove":
            ring = pieces[deed["piece"]]
            gone = deed["mm"] / ring["length_mm"]
            pieces[deed["part"]] = {**ring, "length_mm": deed["mm"], "volume_mm3": ring["volume_mm3"] * gone,
                                    "shape": "offcut", "joined": {}}  # fmt: skip
            ring.update(length_mm=ring["length_mm"] - deed["mm"], volume_mm3=ring["volume_mm3"] * (1 - gone))
        else:
            piece = pieces[deed["piece"]]
            piece.update(OPS.get(deed["op"], lambda piece, deed: {})(piece, deed))
        for name, thing in things.items():
            if name in pieces:
                pieces[name].update(thing)
    for piece in pieces.values():
        piece["inside_diameter_mm"] = inside(piece) if piece["shape"] in ROUND else None
    return pieces


def _insert(pieces: State, deed: dict[str, Any]) -> None:
    ring, part = pieces[deed["piece"]], pieces.pop(deed["part"])
    ring.update(
        length_mm=ring["length_mm"] + deed["mm"],
        volume_mm3=ring["volume_mm3"] + part["volume_mm3"],
        shape="closed",
        clean=ring["clean"] and part["clean"],
    )


def _opened(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    joined = {seam: solder for seam, solder in piece["joined"].items() if seam != deed["through"]}
    return {**_shorter(piece, deed), "shape": "open", "shut": False, "joined": joined}


def _shorter(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    long = piece["length_mm"] - deed["takes_mm"]
    return {"length_mm": long, "volume_mm3": piece["volume_mm3"] * long / piece["length_mm"]}


def _cut(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    name = "width_mm" if deed["along"] == "width" else "length_mm"
    return {name: deed["to_mm"], "volume_mm3": piece["volume_mm3"] * deed["to_mm"] / piece[name]}


def _size(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    if piece["shape"] == "lapped":
        return {"beyond_mm": piece["length_mm"] - math.pi * (deed["to_mm"] + 2 * piece["neutral_mm"])}
    # the wall thins as the ring grows: solved as a quadratic in the length, not by steps
    flat = piece["times"] * (math.pi * deed["to_mm"] + piece["beyond_mm"])
    lies = piece["times"] * 2 * math.pi * piece["neutral_mm"] * piece["length_mm"]
    long = (flat + math.sqrt(flat**2 + 4 * lies)) / 2
    thinner = piece["length_mm"] / long
    return {
        "length_mm": long,
        "thickness_mm": piece["thickness_mm"] * thinner,
        "neutral_mm": piece["neutral_mm"] * thinner,
    }


def _ends(piece: dict[str, Any], deed: dict[str, Any]) -> dict[str, Any]:
    """A trapezium in place of a rectangle: its under side is a chord, its middle line an arc over the same angle."""
    lean, upper, thick = math.radians(deed["deg"]), piece["length_mm"], piece["thickness_mm"]
    lower = upper - 2 * thick * math.tan(lean)
    radius = lower / 2 / math.sin(lean) + piece["neutral_mm"]
    return {"length_mm": 2 * lean * radius, "volume_mm3": piece["volume_mm3"] * (upper + lower) / 2 / upper}


OPS: dict[str, Any] = {
    "cut": _cut,
    "open": _opened,
    "trim": _shorter,
    "saw-joint": _shorter,
    "file-joint": _shorter,
    "dress": lambda p, d: {"volume_mm3": p["volume_mm3"] - d["takes_mm3"]},
    "anneal": lambda p, d: {"strain": 0.0, "annealed": True, "hot": True, "clean": p["clean"] and _stays_bright(p)},
    "work": lambda p, d: {
        "length_mm": p["length_mm"] + d["grows_mm"],
        "strain": p["strain"] + d["strain"],
        "neutral_mm": d["neutral_mm"],
        "thickness_mm": d["thickness_mm"],
        "width_mm": d["width_mm"],
    },
    "form": lambda p, d: {"shape": d["shape"], "strain": p["strain"] + d["strain"], "beyond_mm": d["beyond_mm"],
                          "curves": [], "gap": None},
    "close": lambda p, d: {"shape": "closed"},
    "bind": lambda p, d: {"bound": d["with"]},
    "unbind": lambda p, d: {"bound": "none"},
    "guard": lambda p, d: {"guarded": True},
    "flux": lambda p, d: {"fluxed": True},
    "cool": lambda p, d: {"hot": False},
    "quench": lambda p, d: {"hot": False},
    "pickle": lambda p, d: {"clean": True, "fluxed": False},
    "uncoat": lambda p, d: {} if d["stone"] else {"guarded": p["guarded"] and any(
        one not in ("boric glaze", "flux glass") for one in p["coats"] if one != d["with"])},
    "file-solder": lambda p, d: {"hump": False},
    "round": lambda p, d: {"shape": "round" if p["shape"] in ("closed", "open") else p["shape"],
                           "length_mm": p["length_mm"] + d["grows_mm"]},
    "true": lambda p, d: {"shape": "round" if p["shape"] in ("closed", "open") else p["shape"],
                          "length_mm": p["length_mm"] + d["grows_mm"]},
    "size": _size,
    "fit": lambda p, d: {"fitted": d["over"]},
    "bend": lambda p, d: {"shape": "open" if bends(d) else d["shape"], "strain": p["strain"] + d["strain"],
                          "length_mm": p["length_mm"] + d["grows_mm"], "times": p["times"] * d["times"]},
    "shape-ends": _ends,
    "spread": lambda p, d: {"strain": p["strain"] + d["strain"]},
    "dome": lambda p, d: {"strain": p["strain"] + d["strain"]},
    "finish": lambda p, d: {"faces": p["faces"] if p["faces"][d["face"]] == "textured"
                            else {**p["faces"], d["face"]: d["with"]}},
    "texture": lambda p, d: {"faces": {**p["faces"], d["face"]: "textured"}},
}  # fmt: skip


def _stays_bright(piece: dict[str, Any]) -> bool:
    return piece["metal"] in ("fine-silver", "fine-gold", "platinum-950", "palladium-950")


def _solder(pieces: State, deed: dict[str, Any]) -> None:
    parts, waiting = [], {}
    for name in deed["pieces"]:
        taken = dict(pieces[name])
        if parts and 0 < deed.get("takes", 0) < taken["count"]:
            waiting[name] = {**taken, "count": taken["count"] - deed["takes"]}
            taken["count"] = deed["takes"]
        parts.append(taken)
    volume = math.fsum(part["volume_mm3"] * part["count"] for part in parts)
    mass = math.fsum(part["volume_mm3"] * part["count"] * part["density_g_cm3"] for part in parts)
    one = len(parts) == 1
    joined = {seam: solder for part in parts for seam, solder in part["joined"].items()}
    first = parts[0]
    bright = first["metal"] in ("platinum-950", "palladium-950")  # neither fluxed nor darkened
    made = {
        **first,
        "joined": {**joined, deed["joint"]: deed["solder"]},
        "volume_mm3": first["volume_mm3"] * deed["alike"] if one else volume,
        "density_g_cm3": first["density_g_cm3"] if one else mass / volume,
        "count": first["count"] // deed["alike"] if one else 1,
        "bound": next((part["bound"] for part in parts if part["bound"] != "none"), "none"),
        "faces": {**first["faces"], "outside": parts[-1]["faces"]["outside"]},
        "heats": max(part["heats"] for part in parts) + 1,
        "shut": first["shut"] or first["shape"] != "strip",
        "hump": True,
        "strain": 0.0,
        "annealed": True,
        "hot": True,
        "clean": first["clean"] and bright,
        "fluxed": False,
        "fitted": "",
    }
    place = list(pieces)
    kept = {name: pieces[name] for name in place if name not in deed["pieces"]}
    order = [deed["into"] if name == deed["pieces"][0] else name for name in place]
    now = {
        name: made if name == deed["into"] else kept[name] for name in order if name == deed["into"] or name in kept
    }
    pieces.clear()
    pieces.update(now | waiting)
