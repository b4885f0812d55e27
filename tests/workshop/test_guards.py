"""Guards that read the project itself."""

import ast
import dataclasses
import json
import re
import tomllib
from pathlib import Path
from typing import Any, get_args, get_type_hints

import pytest
from django.core.management import call_command
from django.test import Client
from pydantic import BaseModel

from ringcraft.styles import STYLES
from ringcraft.styles.orders import first_order
from ringcraft.works import WORKS
from tests.orders import style_plan
from workshop import settings as our_settings
from workshop.api import api

ROOT = Path(__file__).resolve().parents[2]
SHOWN_TEXT = (ROOT / "README.md").read_text() + (ROOT / "docs" / "tour.md").read_text()


def test_no_migration_is_missing(db: None) -> None:
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def settings_read() -> set[str]:
    """The names that settings and commands read from the environment, by the calls that read them."""
    readers = {"text", "items", "whole", "switch", "origins", "addresses"}
    tree = ast.parse((ROOT / "workshop" / "settings.py").read_text())
    calls = [node for node in ast.walk(tree) if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)]
    return {str(node.args[0].value) for node in calls
            if node.func.id in readers and isinstance(node.args[0], ast.Constant)}  # type: ignore[attr-defined] # fmt: skip


def test_every_setting_from_the_environment_is_described() -> None:
    used = settings_read()
    assert len(used) > 12
    for where in (our_settings.__doc__ or "", (ROOT / "docs" / "operations.md").read_text()):
        for name in used:
            short = f"_{name.removeprefix('DB_')}`" if name.startswith("DB_") else f"PLAIN_SHANK_{name}"
            assert short in where or name.removeprefix("DB_") in where, name


def test_the_readme_links_every_screenshot_and_the_two_commands() -> None:
    readme = (ROOT / "README.md").read_text()
    shots = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 3 <= len(shots) < 20
    for shot in shots:
        assert f"docs/screenshots/{shot.name}" in readme
    assert "make demo" in readme
    assert "make test" in readme


def test_every_table_is_in_the_sources_page() -> None:
    page = (ROOT / "docs" / "sources.md").read_text()
    for table in (ROOT / "ringcraft" / "tables").rglob("*.toml"):
        assert table.name in page


@pytest.mark.parametrize("name", ["requirements.txt", "requirements-dev.txt", "web/package-lock.json", ".npmrc"])
def test_lock_files_name_no_registry(name: str) -> None:
    text = (ROOT / name).read_text()
    assert not re.search(r"index-url|find-links|\"resolved\": *\"http|registry *= *http", text)


def test_files_stay_short() -> None:
    for folder in ("ringcraft", "workshop", "tools", "demo", "tests"):
        for path in (ROOT / folder).rglob("*.py"):
            if "migrations" not in path.parts:
                assert len(path.read_text().splitlines()) <= 400, path
    for path in (ROOT / "web" / "src").rglob("*"):
        if path.suffix in (".svelte", ".ts", ".css") and path.name != "schema.d.ts":
            assert len(path.read_text().splitlines()) <= 400, path


def test_the_page_is_served_and_asks_for_nothing_elsewhere(db: None) -> None:
    answer = Client().get("/some/deep/address")
    assert answer.status_code == 200
    assert not re.search(r"(src|href)=\"(https?:)?//", answer.content.decode())
    assert Client().post("/ring").status_code in (403, 405)


def test_a_dead_database_is_said_plainly(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    from django.db.utils import OperationalError

    def away(*arguments: object, **words: object) -> object:
        raise OperationalError(2013, "Lost connection")

    monkeypatch.setattr("workshop.api.session._session", away)
    answer = Client().get("/api/session")
    assert answer.status_code == 503
    assert "kept on this device" in answer.json()["errors"][0]["hint"]


def test_every_screen_has_its_picture_and_its_check_for_everybody() -> None:
    from tests.browser.test_every_screen import SCREENS
    from tools.shots import VIEWS

    shots = {path.stem for path in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert shots == {name for name, *_ in VIEWS} | {"sign-in", "slip"}
    routes = routes_of_the_page()
    assert len(routes) > 15
    checked = {place_of(address) for address in SCREENS.values()}
    assert set(routes) <= checked
    pictured = {place_of(address)[0] for _, address, _, _ in VIEWS}
    assert {at for at, _ in routes} - pictured == WITHOUT_PICTURE


#: Small screens whose pictures gave way: fewer than twenty are kept.
WITHOUT_PICTURE = {"batch", "practice", "charts", "ticket", "true-size", "why", "worth"}


def routes_of_the_page() -> list[tuple[str, bool]]:
    """The route table of the page as data: the first part of each address, and whether a number follows."""
    table = (ROOT / "web" / "src" / "App.svelte").read_text().split("const ROUTES = [")[1].split("] as Route[]")[0]
    entries = re.split(r"\bat: ", table)[1:]
    views = [(re.findall(r"^'([a-z-]*)'", entry)[0], "one: true" in entry) for entry in entries]
    works = [
        re.findall(r"\bat: '([a-z-]+)'", path.read_text())[0] for path in (ROOT / "web").rglob("views/*/work.ts")
    ]
    assert len(works) == len(WORKS)
    return views + [(at, one) for at in works for one in (True, False)]


def place_of(address: str) -> tuple[str, bool]:
    parts = address.partition("#")[0].strip("/").split("/")
    return parts[0], len(parts) > 1


@pytest.mark.parametrize("style", STYLES)
def test_every_style_is_named_where_one_looks_for_it(style: str) -> None:
    entry = STYLES[style]
    route = (ROOT / "ringcraft" / "tables" / "routes" / f"{entry.route}.toml").read_text()
    assert route.startswith("# The route of ")
    assert entry.plan.__doc__
    assert entry.request.__doc__
    assert entry.answer.__doc__
    made = style_plan(style)
    assert made.ring.shapes
    assert all(blank.drawing.shapes for blank in made.blanks)


def test_no_function_is_much_longer_than_a_screen() -> None:
    for folder in ("ringcraft", "workshop", "tools", "demo"):
        for path in (ROOT / folder).rglob("*.py"):
            if "migrations" in path.parts:
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.FunctionDef):
                    assert (node.end_lineno or 0) - node.lineno < 66, f"{path}: {node.name}"


def test_every_word_of_a_heading_is_our_own_and_no_host_is_named() -> None:
    for path in [*(ROOT / "web" / "src").rglob("*.svelte"), *(ROOT / "web" / "src").rglob("*.ts")]:
        if path.name != "schema.d.ts":
            assert not re.search(r"https?://(?!www\.w3\.org)", path.read_text()), path


#: Known cases of the trade: they may be check values of tests, never what a stranger is shown as an example.
KNOWN = (
    "19.84|61.6|16.92|52.4|18.61|17.76|64.7|61.9|55.8|63.3|62.3|60.78|6.78|10.06|8.41|2.073|4.277|1.943|4.115|4.469|"
    "4.693|3.922|3.809|1.597|1.467|1.727|17.3|54.4|7 1/2|7½|K½|K 1/2|10 3/4|20 ga|16 ga"
)
SHOWN = [
    "README.md", "docs/*.md", "demo/*.toml", "tools/shots.py", "web/src/views/**/*.svelte", "web/src/lib/**/*.svelte",
    "ringcraft/styles/orders.py", "ringcraft/reading.py", "ringcraft/schema.py", "ringcraft/measure/*.py",
]  # fmt: skip


@pytest.mark.parametrize("pattern", SHOWN)
def test_examples_are_invented(pattern: str) -> None:
    known = re.compile(rf"(?<![\w.,/])(?:{KNOWN.replace('.', '[.,]')})(?![\w]|[.,]\d)")
    for path in ROOT.glob(pattern):
        shown = path.read_text()
        if path.suffix == ".py":  # what a person reads: not the doctests, nor the prose of the source
            strings = [n.value for n in ast.walk(ast.parse(shown)) if isinstance(n, ast.Constant)]
            docs = {ast.get_docstring(n, clean=False) for n in ast.walk(ast.parse(shown))
                    if isinstance(n, (ast.Module, ast.ClassDef, ast.FunctionDef))}  # fmt: skip
            shown = "\n".join(text for text in strings if isinstance(text, str) and text not in docs)
        assert known.findall(shown) == [], path


#: The same as combinations: each figure alone is anybody's, together they are a case that is passed on in the trade.
TOGETHER: list[dict[str, Any]] = [
    {"stock.width_mm": 10, "overlap_mm": 10, "waist_mm": 3.5},
    {"stock.profile": "d", "stock.width_mm": 3, "stock.thickness_mm": 2, "v_angle_deg": 75},
    {"stock.profile": "half-round", "stock.width_mm": 6, "stock.thickness_mm": 2, "size": "US 10"},
]


def flat(data: Any, path: str = "") -> dict[str, Any]:
    """Each figure of an order by its dotted path; what is a number as text is that number."""
    if isinstance(data, dict):
        return {key: value for name, part in data.items() for key, value in flat(part, f"{path}.{name}").items()}
    try:
        return {path.removeprefix("."): float(data)}
    except (TypeError, ValueError):
        return {path.removeprefix("."): data}


def known_together(order: dict[str, Any]) -> bool:
    said = flat(order)
    return any(all(said.get(path) == value for path, value in case.items()) for case in TOGETHER)


@pytest.mark.parametrize("style", STYLES)
def test_a_style_begins_with_figures_of_its_own(style: str) -> None:
    order = first_order(STYLES[style])
    assert not known_together(order)
    known = {float(one) for one in KNOWN.split("|") if re.fullmatch(r"[\d.]+", one)}
    assert not known & {value for value in flat(order).values() if isinstance(value, float)}


def test_no_order_of_the_readme_and_the_demo_is_a_known_case() -> None:
    demo = [
        row for name in ("workshop", "more") for row in tomllib.loads((ROOT / f"demo/{name}.toml").read_text())["job"]
    ]
    shown = [json.loads(one.replace("\n", " ")) for one in re.findall(r"echo '(\{.*?\})' \|", SHOWN_TEXT, re.DOTALL)]
    assert len(shown) > 3
    assert not [one for one in (*shown, *(row["order"] for row in demo)) if known_together(one)]
    assert known_together({"v_angle_deg": "75", "stock": {"profile": "d", "width_mm": "3", "thickness_mm": 2}})


def test_a_migration_from_before_the_release_is_named_as_replaced() -> None:
    for folder in (ROOT / "workshop").glob("*/migrations"):
        first = next(iter(sorted(folder.glob("0001*.py"))), None)
        if first and "release" in first.name:
            assert "replaces = [" in first.read_text(), first


DRAWN = {
    "SoFar",
    "DayDrawing",
    "CutBars",
    "CutSheets",
    "BarPicture",
    "ConversionStrip",
    "RingPicture",
    "Line",
    "Figure",
}  # letters in a drawing are its own
SIZES = {"small", "note", "body", "lead", "order", "title"}


def test_text_has_six_sizes() -> None:
    """Those of the theme and no others; a figure that leads and what is drawn have their own."""
    theme = (ROOT / "web" / "src" / "app.css").read_text().split("@theme static")[1].split("}")[0]
    assert set(re.findall(r"--text-([a-z]+):", theme)) == SIZES
    used: set[str] = set()
    for path in (ROOT / "web" / "src").rglob("*.svelte"):
        text = path.read_text()
        assert not re.findall(r"text-\[[\d.]+(?:px|rem|em)\]|\btext-(?:xs|sm|base|lg|xl|\dxl)\b", text), path
        sized = re.findall(r"font-size: (\d+)px", text)
        assert all(int(size) >= 40 for size in sized) or path.stem in DRAWN, (path, sized)
        used |= set(re.findall(r"\btext-(small|note|body|lead|order|title)\b", text))
    assert used == SIZES


def walked(kind: Any, named: dict[str, set[type]]) -> None:
    """Note each type of our own that an answer or a request is made of, by its name."""
    for inner in (*get_args(kind), getattr(kind, "__value__", None)):
        walked(inner, named) if inner is not None else None
    if not isinstance(kind, type) or kind in named.get(kind.__name__, ()):
        return
    ours = kind.__module__.startswith(("ringcraft", "workshop"))
    if dataclasses.is_dataclass(kind) or issubclass(kind, BaseModel):
        if ours:
            named.setdefault(kind.__name__, set()).add(kind)
        fields = getattr(kind, "model_fields", {})
        for hint in (one.annotation for one in fields.values()) if fields else get_type_hints(kind).values():
            walked(hint, named)


def test_no_two_types_of_the_api_share_a_name() -> None:
    # a schema keeps one type under a name: the second silently describes the first
    named: dict[str, set[type]] = {}
    for _, router in api._routers:
        for view in router.path_operations.values():
            for operation in view.operations:
                for model in (*operation.models, *operation.response_models.values()):
                    walked(model, named)
    assert len(named) > 200
    assert {name: kinds for name, kinds in named.items() if len(kinds) > 1} == {}


def test_every_promise_names_a_test_that_is_there() -> None:
    """A test that is renamed leaves no promise without one."""
    named = re.findall(r"`(tests/[\w/]+\.py)(?:::(\w+))?`", (ROOT / "docs" / "security.md").read_text())
    assert len(named) > 25
    for path, name in named:
        text = (ROOT / path).read_text()
        assert not name or f"def {name}(" in text, (path, name)
