"""The command line: ``python -m ringcraft COMMAND`` reads one JSON object and prints one."""

from __future__ import annotations

import json
import sys
from typing import Any, TextIO

from ringcraft.commands import COMMANDS
from ringcraft.errors import BadRequest, CraftError, UnknownNameError, UnreadableError
from ringcraft.schema import to_json

LONGEST_INPUT = 1_000_000  # characters; more is no order


def run(command: str, source: TextIO) -> tuple[int, Any]:
    """Exit status and answer of a command with its JSON on ``source``."""
    try:
        if command not in COMMANDS:
            raise UnknownNameError("command", "That is not a command.", f"It can be {', '.join(COMMANDS)}.")
        return 0, to_json(COMMANDS[command](_read(source)))
    except BadRequest as problem:
        return 2, {"error": problem.errors[0].as_dict(), "errors": [e.as_dict() for e in problem.errors]}
    except CraftError as problem:
        return 2, {"error": problem.as_dict(), "errors": [problem.as_dict()]}


def _read(source: TextIO) -> Any:
    try:
        text = source.read(LONGEST_INPUT + 1)
        if len(text) > LONGEST_INPUT:
            raise UnreadableError("", "That is too long to be an order.", "")
        return json.loads(text)
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
        raise UnreadableError("", "The input is not JSON.", "Write one JSON object.") from None


def main() -> int:
    """Run the command named by the first argument; bad input leaves with 2."""
    status, answer = run(sys.argv[1] if len(sys.argv) > 1 else "", sys.stdin)
    json.dump(answer, sys.stdout, ensure_ascii=False, allow_nan=False, indent=2)
    print()
    return status


if __name__ == "__main__":
    raise SystemExit(main())
