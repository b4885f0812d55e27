"""The licences of all that ships: from the lists of parts that ``make sbom`` made into ``docs/licences.md``."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
LISTS = ROOT / "var" / "sbom"
PAGE = ROOT / "docs" / "licences.md"
#: What the page is made of: the packages whose code, styles or letters are in it, and what they need.
IN_THE_PAGE = (
    "@fontsource/barlow", "@fontsource/barlow-semi-condensed", "chrono-node", "daisyui", "idb-keyval",
    "openapi-fetch", "svelte", "tailwindcss", "workbox-precaching", "workbox-routing", "workbox-window",
)  # fmt: skip
#: Parts whose own list does not say it: read in the licence file that they ship.
IN_ITS_FILE = {"pyrage": "MIT"}
HEAD = """# Licences of what ships

Made by `make sbom`, which writes every part, the tools among them, as CycloneDX 1.6 into `var/sbom/`. The application
itself is under the licence in `LICENSE`. MariaDB, Python, Node.js and Chromium are Debian's, with Debian's licences.

| part | version | licence | where |
|---|---|---|---|
"""


def licence_of(part: dict[str, Any]) -> str:
    """What a part of a list is licensed under: by SPDX where it says so."""
    said = []
    for one in part.get("licenses", []):
        inner = one.get("license", {})
        said.append(one.get("expression") or inner.get("id") or inner.get("name", "").splitlines()[0][:60])
    spdx = [text for text in said if text and not text.startswith("License ::")]
    named = spdx or [text.rpartition(":: ")[2] for text in said if text]
    return " and ".join(dict.fromkeys(named)) or IN_ITS_FILE.get(part.get("name", ""), "not said")


def in_the_page(lock: dict[str, Any]) -> set[str]:
    """The packages that are in the page, by the lock file."""
    packages = lock["packages"]
    found, waiting = set[str](), list(IN_THE_PAGE)
    while waiting:
        name = waiting.pop()
        row = packages.get(f"node_modules/{name}")
        if row is None or name in found:
            continue
        found.add(name)
        waiting += row.get("dependencies", {})
    return found


def rows() -> list[tuple[str, str, str, str]]:
    """Name, version, licence and place of each part that ships."""
    python = json.loads((LISTS / "python.cdx.json").read_text())
    out = [(part["name"], part["version"], licence_of(part), "server") for part in python["components"]]
    page = in_the_page(json.loads((ROOT / "web" / "package-lock.json").read_text()))
    for part in json.loads((LISTS / "web.cdx.json").read_text())["components"]:
        name = f"{part['group']}/{part['name']}" if part.get("group") else part["name"]
        if name in page:
            out.append((name, part["version"], licence_of(part), "page"))
    return sorted(out, key=lambda row: (row[3], row[0].lower()))


def main() -> None:
    """Write the page."""
    found = rows()
    PAGE.write_text(HEAD + "".join(f"| {' | '.join(row)} |\n" for row in found), encoding="utf8")
    print(f"{len(found)} parts in {PAGE.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
