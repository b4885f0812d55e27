"""Tests as a share of all code, by lines that are not blank. Wanted: a quarter to a third."""

from __future__ import annotations

import subprocess
from pathlib import Path

CODE = {".py", ".ts", ".svelte", ".css", ".sh"}
GENERATED = {"schema.d.ts"}


def lines(path: Path) -> int:
    """Lines of a file that are not blank."""
    return sum(1 for line in path.read_text(encoding="utf8").splitlines() if line.strip())


def is_test(path: Path) -> bool:
    """Whether a file is a test."""
    return path.parts[0] == "tests" or "testing" in path.parts or path.name.endswith((".test.ts", ".spec.ts"))


def main() -> None:
    """Print the count."""
    listed = subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard"], capture_output=True, text=True, check=True
    )
    paths = [Path(name) for name in listed.stdout.splitlines()]
    paths = [p for p in paths if p.suffix in CODE and p.name not in GENERATED and p.exists()]
    tests = sum(lines(path) for path in paths if is_test(path))
    all_code = sum(lines(path) for path in paths)
    print(f"tests {tests} of {all_code} lines: {100 * tests / all_code:.0f} %")


if __name__ == "__main__":
    main()
