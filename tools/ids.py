"""Which tests of a kept list are gone: no check is lost unseen. Run by ``make test-all``.

``tests/kept/ids.txt.gz`` holds the ids as they were on a day; ``tests/kept/ids-gone.toml`` names each that went, by
the beginning of its id, with the reason. One gone without a reason fails; so does a reason for one still there.
"""

from __future__ import annotations

import gzip
import os
import subprocess
import sys
import tomllib
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
KEPT = ROOT / "tests" / "kept" / "ids.txt.gz"
GONE = ROOT / "tests" / "kept" / "ids-gone.toml"
PLAIN = "addopts=--strict-markers --doctest-modules --ignore=ringcraft/__main__.py -p no:cacheprovider"


def collected() -> set[str]:
    """The ids of every test there is."""
    command = [sys.executable, "-m", "pytest", "--collect-only", "-q", "-o", PLAIN]
    environment = {name: value for name, value in os.environ.items() if name != "SLICE"}
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    return {line for line in done.stdout.splitlines() if "::" in line}


def main() -> int:
    """Compare; 0 where every id that is gone has its reason."""
    kept = set(gzip.decompress(KEPT.read_bytes()).decode().splitlines())
    reasons: dict[str, str] = tomllib.loads(GONE.read_text())
    gone = kept - collected()
    unsaid = sorted(one for one in gone if not one.startswith(tuple(reasons)))
    idle = [begins for begins in reasons if not any(one.startswith(begins) for one in gone)]
    for one in unsaid[:40]:
        print(f"gone without a reason: {one[:200]}")
    for begins in idle:
        print(f"a reason for nothing: {begins}")
    print(f"{len(kept)} kept, {len(gone)} gone, {len(unsaid)} of them without a reason")
    return 1 if unsaid or idle else 0


if __name__ == "__main__":
    raise SystemExit(main())
