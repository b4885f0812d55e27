"""Write the API's schema and the front end's types from the code, or check that they are current."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SCHEMA = ROOT / "workshop" / "api" / "openapi.json"
TYPES = ROOT / "web" / "src" / "lib" / "api" / "schema.d.ts"


def write(schema: Path, types: Path) -> None:
    """Generate both files."""
    environment = {**os.environ, "PLAIN_SHANK_SECRET_KEY": "only for the schema"}
    export = ["export_openapi_schema", "--api", "workshop.api.api", "--sorted", "--indent", "2"]
    subprocess.run(
        [sys.executable, "manage.py", *export, "--output", str(schema)], cwd=ROOT, env=environment, check=True
    )
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(schema), "-o", str(types)],
        cwd=ROOT / "web", check=True, capture_output=True,
    )  # fmt: skip


def main() -> int:
    """Write them, or with --check compare them."""
    if "--check" not in sys.argv:
        TYPES.parent.mkdir(parents=True, exist_ok=True)
        write(SCHEMA, TYPES)
        return 0
    with tempfile.TemporaryDirectory() as folder:
        schema, types = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        write(schema, types)
        for fresh, kept in ((schema, SCHEMA), (types, TYPES)):
            if not kept.exists() or fresh.read_text() != kept.read_text():
                print(f"{kept.relative_to(ROOT)} is not current: run make types")
                return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
