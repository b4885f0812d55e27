"""Write the API's schema and the front end's types from the code, or check that they are current."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SCHEMA = ROOT / "workshop" / "api" / "openapi.json"


def schema_of() -> str:
    """The API's schema, from the code."""
    environment = {**os.environ, "PLAIN_SHANK_SECRET_KEY": "only for the schema"}
    export = ["export_openapi_schema", "--api", "workshop.api.api", "--sorted", "--indent", "2"]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "openapi.json"
        subprocess.run(
            [sys.executable, "manage.py", *export, "--output", str(path)], cwd=ROOT, env=environment, check=True
        )
        return path.read_text()


def main() -> int:
    """Write the schema and the types made from it, or with --check compare the schema.

    The front end's types are not kept: every build and check of it makes them from the schema anew.
    """
    fresh = schema_of()
    if "--check" in sys.argv:
        if not SCHEMA.exists() or fresh != SCHEMA.read_text():
            print(f"{SCHEMA.relative_to(ROOT)} is not current: run make types")
            return 1
        return 0
    SCHEMA.write_text(fresh)
    subprocess.run(["npm", "run", "types", "--silent"], cwd=ROOT / "web", check=True, capture_output=True)
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
