"""One family of errors: what is wrong, where, and what would be accepted."""

from __future__ import annotations


class CraftError(ValueError):
    """Something the craft cannot work with.

    ``field`` is the dotted path in the request (``stock.thickness_mm``); readers that do not know
    where their text came from leave it empty and the border fills it in. ``message`` says what is
    wrong in the craft's words, ``hint`` what would be accepted.
    """

    def __init__(self, field: str, message: str, hint: str = "") -> None:
        super().__init__(field, message, hint)
        self.field = field
        self.message = message
        self.hint = hint

    def __str__(self) -> str:
        where = f"{self.field}: " if self.field else ""
        tail = f" {self.hint}" if self.hint else ""
        return f"{where}{self.message}{tail}"

    def at(self, field: str) -> CraftError:
        """The same error, placed at a field."""
        return type(self)(field, self.message, self.hint)

    def as_dict(self) -> dict[str, str]:
        """The error as the contract writes it."""
        return {"field": self.field, "message": self.message, "hint": self.hint}


class UnreadableError(CraftError):
    """Text that is no number, length or size."""


class OutOfRangeError(CraftError):
    """A figure that can be read but lies outside what a bench works with."""


class UnknownNameError(CraftError):
    """A scale, profile, metal, rule or blade that is not in its table."""


class ImpossibleSectionError(CraftError):
    """A section or ring that cannot exist."""


class BadRequest(Exception):
    """One or more craft errors found while reading a request."""

    def __init__(self, errors: list[CraftError]) -> None:
        super().__init__("; ".join(str(error) for error in errors))
        self.errors = errors
