"""Which nodes failed a moment ago: known to all workers that were forked after this was read, on no disk."""

from __future__ import annotations

import mmap
import struct
import time

SKIPPED_S = 10.0
MOST = 64  # nodes
_TIME = struct.Struct("d")
_until = mmap.mmap(-1, MOST * _TIME.size)  # anonymous and shared: a fork keeps it


def skip(nth: int) -> None:
    """The nth node of the settings failed: for ten seconds the others are asked first."""
    if nth < MOST:
        _TIME.pack_into(_until, nth * _TIME.size, time.monotonic() + SKIPPED_S)


def is_skipped(nth: int) -> bool:
    """Whether the nth node failed less than ten seconds ago."""
    if nth >= MOST:
        return False
    left: float = _TIME.unpack_from(_until, nth * _TIME.size)[0] - time.monotonic()
    return left > 0


def forget() -> None:
    """All of them are asked again, in their order."""
    _until[:] = bytes(len(_until))
