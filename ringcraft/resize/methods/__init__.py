"""The ways of resizing, each one entry here."""

from __future__ import annotations

from ringcraft.resize.methods import (
    add_stock,
    compress,
    refuse,
    rejoin,
    reshank,
    stretch,
    take_out,
    true_first,
)
from ringcraft.resize.methods.base import Method

METHODS: dict[str, Method] = {
    module.METHOD.key: module.METHOD
    for module in (stretch, compress, take_out, add_stock, reshank, rejoin, true_first, refuse)
}
COLD = tuple(key for key in ("stretch", "compress"))
TORCH = tuple(key for key, method in METHODS.items() if method.torch)
