"""A metal of a new family is two rows: one that says what its family has in common, one with its own figures."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
from pathlib import Path

import ringcraft

FAMILY = """
[[row]]
key = "grey-metal"
title = "grey metal"
tone = "#8f9294"
dim_tone = "#4d4a46"
papers = ["320 paper", "600 paper", "tripoli"]
wide_papers = ["320 paper", "600 paper", "1500 paper", "tripoli"]
ladder_from = "own"
strain_limit = 0.7
binding = "steel binding wire"
fit_words = "Tight: no light at all."
flame = "A neutral flame."
fit_mm = 0.03
soft = false
glare = false
fluxed = true
plated = false
precious = "Pd"
source = "invented for this test"
"""
#: With what the bench is asked for of it, in a process of its own that reads the tables anew.
ASKS = """
import json
from ringcraft.heat.answer import answer_heat
from ringcraft.metals import METALS
from ringcraft.money.estimate import estimate_of
from ringcraft.money.prices import MetalPrice, Prices
from ringcraft.resize.plan import resize
from ringcraft.stock.melt.alloying import alloy, fineness_of
from ringcraft.stock.melt.melting import melt
from ringcraft.stock.wanted import stock_wanted
from ringcraft.styles import STYLES
from ringcraft.styles.orders import first_order
from ringcraft.works import MAKE, RESIZE, follow, sheet_of

KEY = "grey-500"
said = {}
for key, style in STYLES.items():
    data = {**first_order(style), "metal": KEY}
    plan = MAKE.plan(MAKE.read(data))
    assert follow(MAKE, data, plan, {"stock-thickness": 1.6}).plan.route
    for step in plan.route:
        sheet_of(MAKE, data, plan, {}, {}, step.key, {})
    assert stock_wanted(plan)
    said[key] = [plan.metal.family, [step.title for step in plan.route if step.station == "finish"][:1]]
came = {"from": "US 6", "to": "US 7", "metal": KEY, "stones": [{"kind": "opal"}],
        "shank": {"profile": "half-round", "width_mm": 3, "thickness_mm": 1.6}}
for way in ("stretch", "add-stock", "reshank", "refuse"):
    estimate_of(resize({**came, "method": way, "override_reason": "asked for"}), Prices(metals=(MetalPrice(metal=KEY, price="3"),)))
said["fineness"] = fineness_of(KEY)
said["oxygen"] = METALS[KEY].needs_oxygen
said["alloy"] = alloy({"parts": [{"metal": KEY, "mass_g": 10}], "target_fineness": 400}).add
said["melt"] = " ".join(melt({"metal": KEY, "blanks": [{"volume_mm3": 500}]}).cautions)
print(json.dumps(said))
"""


def test_a_metal_of_a_new_family_is_two_rows(tmp_path: Path) -> None:
    package = Path(ringcraft.__file__).parent
    shutil.copytree(package, tmp_path / "ringcraft", ignore=shutil.ignore_patterns("__pycache__"))
    tables = tmp_path / "ringcraft" / "tables"
    with (tables / "families.toml").open("a") as families:
        families.write(FAMILY)
    metals = (tables / "metals.toml").read_text()
    row = next(one for one in metals.split("[[row]]") if 'key = "gold-14k-white-palladium"' in one)
    for name, value in (("key", "grey-500"), ("title", "grey 500"), ("family", "grey-metal")):
        row = re.sub(rf'^{name} = ".*"$', f'{name} = "{value}"', row, flags=re.MULTILINE)
    row = re.sub(r"^composition = .*$", "composition = { Pd = 0.5, Ag = 0.5 }", row, flags=re.MULTILINE)
    (tables / "metals.toml").write_text(f"{metals}\n[[row]]{row}")
    done = subprocess.run([sys.executable, "-c", ASKS], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    said = json.loads(done.stdout)
    assert {family for family, _ in (said[key] for key in said if isinstance(said[key], list))} == {"grey-metal"}
    assert said["plain-band"][1] == ["320 paper"]
    assert (said["fineness"], said["oxygen"], said["alloy"]) == (500.0, True, "alloy")
    assert "grey 500 needs oxygen" in said["melt"]
