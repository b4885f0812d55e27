"""A simulated caliper on a wire: it types its reading and Enter, as such a caliper does to any window.

`python -m tools.caliper 1.82 4.00` types into the terminal; the tests type into a browser page.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

KEY_SECONDS = 0.004  # such a caliper types faster than any hand


def type_readings(readings: list[str], key: Callable[[str], object], seconds: float = KEY_SECONDS) -> None:
    """Type each reading letter by letter and end it with Enter."""
    for reading in readings:
        for letter in reading:
            key(letter)
            time.sleep(seconds)
        key("Enter")


def main() -> None:
    """Type the readings given as arguments to standard output."""
    type_readings(sys.argv[1:], lambda key: print("\n" if key == "Enter" else key, end="", flush=True))


if __name__ == "__main__":
    main()
