"""One family of errors: what is wrong, where, and what would be accepted."""

from __future__ import annotations

from ringcraft.units import Length, fill


class CraftError(ValueError):
    """Something the craft cannot work with.

    ``field`` is the dotted path in the request (``stock.thickness_mm``); readers that do not know
    where their text came from leave it empty and the schema fills it in. ``message`` says what is
    wrong in the craft's words, ``hint`` what would be accepted. Lengths in either are placeholders
    (``"At most {most:g mm}."``, ``most=30.0`` in mm), so that a shop reads them in its own unit; a
    template that quotes what was typed takes the quotation as a placeholder too.
    """

    def __init__(self, field: str, message: str, hint: str = "", **words: float | str) -> None:
        super().__init__(field, message, hint)
        self.field = field
        self.templates = (message, hint)
        self.words = words
        self.units = "mm"

    @property
    def message(self) -> str:
        """What is wrong, in the craft's words."""
        return self._said(self.templates[0])

    @property
    def hint(self) -> str:
        """What would be accepted."""
        return self._said(self.templates[1])

    def _said(self, template: str) -> str:
        if not self.words:
            return template
        words = {k: v if isinstance(v, str) else Length(v, self.units) for k, v in self.words.items()}
        return fill(template, words)

    def __str__(self) -> str:
        where = f"{self.field}: " if self.field else ""
        tail = f" {self.hint}" if self.hint else ""
        return f"{where}{self.message}{tail}"

    def at(self, field: str) -> CraftError:
        """The same error, placed at a field."""
        return self._like(field, self.units)

    def in_units(self, units: str) -> CraftError:
        """The same error as a shop that works in these units reads it."""
        return self._like(self.field, units)

    def _like(self, field: str, units: str) -> CraftError:
        message, hint = self.templates
        other = type(self)(field, message, hint, **self.words)
        other.units = units
        return other

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

    def under(self, place: str) -> BadRequest:
        """The same errors, of something that stands at a dotted place of a larger request."""
        return BadRequest([error.at(f"{place}.{error.field}".rstrip(".")) for error in self.errors])

    def in_units(self, units: str) -> BadRequest:
        """The same errors as a shop that works in these units reads them."""
        return BadRequest([error.in_units(units) for error in self.errors])
