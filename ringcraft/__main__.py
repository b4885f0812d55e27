"""The command line: ``python -m ringcraft COMMAND`` reads one JSON object and prints one."""

from __future__ import annotations

import io
import json
import sys
from dataclasses import asdict
from typing import Any, TextIO

from ringcraft.commands import COMMANDS
from ringcraft.errors import BadRequest, CraftError, UnknownNameError, UnreadableError
from ringcraft.measure.sizes import FingerSize

LONGEST_INPUT = 1_000_000  # characters; more is no order


def run(command: str, source: TextIO) -> tuple[int, Any]:
    """Exit status and answer of a command with its JSON on ``source``."""
    try:
        if command not in COMMANDS:
            raise UnknownNameError("command", "That is not a command.", f"It can be {', '.join(COMMANDS)}.")
        return 0, _plain(COMMANDS[command](_read(source)))
    except BadRequest as problem:
        return 2, {"error": problem.errors[0].as_dict(), "errors": [e.as_dict() for e in problem.errors]}
    except CraftError as problem:
        return 2, {"error": problem.as_dict(), "errors": [problem.as_dict()]}


def _plain(result: object) -> Any:
    if isinstance(result, FingerSize):  # nothing in it that its schema would write in another way
        return asdict(result)
    from ringcraft.schema import to_json

    return to_json(result)


def _read(source: TextIO) -> Any:
    try:
        text = source.read(LONGEST_INPUT + 1)
        data = json.loads(text) if len(text) <= LONGEST_INPUT else None
    except (ValueError, RecursionError):  # no JSON, no text, or a number of thousands of digits
        raise UnreadableError("", "The input is not JSON.", "Write one JSON object.") from None
    if len(text) > LONGEST_INPUT:
        raise UnreadableError("", "That is too long to be an order.", "")
    return data


def main() -> int:
    """Run the command named by the first argument; bad input leaves with 2."""
    source = io.TextIOWrapper(sys.stdin.buffer, encoding="utf-8")  # JSON is UTF-8 whatever the console is
    status, answer = run(sys.argv[1] if len(sys.argv) > 1 else "", source)
    print(written(answer, sys.stdout.encoding))
    return status


def written(answer: Any, encoding: str) -> str:
    """An answer as JSON that a console of this encoding can show: what it cannot is escaped."""
    plain = json.dumps(answer, ensure_ascii=False, allow_nan=False, indent=2)
    try:
        plain.encode(encoding or "ascii")
    except (UnicodeEncodeError, LookupError):
        return json.dumps(answer, allow_nan=False, indent=2)
    return plain


if __name__ == "__main__":
    raise SystemExit(main())
