"""The page of licences lists all that ships, with a licence that one may ship under."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest

from tools.licences import IN_THE_PAGE, PAGE, ROOT, in_the_page, licence_of

FREE = re.compile(
    r"(MIT|MIT-0|MIT-CMU|0BSD|BSD License|BSD-[23]-Clause|Apache-2\.0|OFL-1\.1|PSF-2\.0|Unlicense|Zlib|CC0-1\.0|ISC|GPL-2\.0-or-later)"
)


def listed() -> dict[tuple[str, str], tuple[str, str]]:
    rows = re.findall(r"^\| ([^|]+) \| ([^|]+) \| ([^|]+) \| (server|page) \|$", PAGE.read_text(), re.MULTILINE)
    return {(name.lower(), where): (version, licence) for name, version, licence, where in rows}


def test_all_that_the_server_needs_is_listed_in_its_version() -> None:
    locked = re.findall(r"^([\w.-]+)==(\S+)", (ROOT / "requirements.txt").read_text(), re.MULTILINE)
    found = {name.replace("_", "-"): version for (name, where), (version, _) in listed().items() if where == "server"}
    assert found == {name.lower().replace("_", "-"): version for name, version in locked}


def test_all_that_the_page_is_made_of_is_listed_in_its_version() -> None:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())
    found = {name: version for (name, where), (version, _) in listed().items() if where == "page"}
    assert found == {name: lock["packages"][f"node_modules/{name}"]["version"] for name in in_the_page(lock)}


def test_what_the_page_imports_is_known_to_be_in_it() -> None:
    text = "\n".join(
        path.read_text()
        for path in (ROOT / "web" / "src").rglob("*")
        if path.suffix in (".ts", ".svelte", ".css")
        and "test" not in path.name + path.parent.name
        and path.name != "schema.d.ts"
    )
    imported = re.findall(r"(?:from|import|@plugin) '((?:@[\w-]+/)?[\w-]+)[^']*'", text)
    assert set(imported) - {"$lib", "tailwindcss"} <= set(IN_THE_PAGE)


def test_each_licence_is_known_and_free() -> None:
    for name, (_, licence) in listed().items():
        for part in re.split(r" (?:and|AND|OR|WITH) ", licence):
            assert FREE.fullmatch(part.strip("() ")), (name, licence)


@pytest.mark.parametrize(
    ("part", "said"),
    [
        ({"licenses": [{"license": {"id": "MIT"}}]}, "MIT"),
        ({"licenses": [{"expression": "MIT OR Apache-2.0"}]}, "MIT OR Apache-2.0"),
        ({"licenses": [{"license": {"name": "License :: OSI Approved :: BSD License"}}]}, "BSD License"),
        ({"licenses": [{"license": {"id": "MIT"}}, {"license": {"name": "License :: OSI Approved :: X"}}]}, "MIT"),
        ({}, "not said"),
    ],
)
def test_a_licence_is_read_as_it_is_said(part: dict[str, Any], said: str) -> None:
    assert licence_of(part) == said
