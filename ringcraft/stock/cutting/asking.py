"""What is asked of a cut plan: the pieces at hand, the blanks wanted, the saw."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, TypeAdapter

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.schema import IN_OWN_UNITS, Mm, PositiveMm, UnitKey, read_figure, request

MOST_PIECES, MOST_BLANKS, MOST_SHEETS = 400, 2000, 40
DIRECTIONS = ("any", "along")
WIDEST_KERF_MM = 5.0
DEAREST = 1e6
LATEST = 1e9


def _most(most: int, what: str) -> Callable[[object], object]:
    def check(value: object) -> object:
        if isinstance(value, (list, tuple)) and len(value) > most:
            raise OutOfRangeError("", f"More than {most} {what} are more than one plan.", f"At most {most}.")
        return value

    return check


def _cost(value: object) -> float:
    said = read_figure(value, (), "Write 4.50, or leave it out.", "That is no price.")
    if not 0 <= said <= DEAREST:
        raise OutOfRangeError("", "No piece of stock costs that.", f"From 0 to {DEAREST:.0f}.")
    return said


def _due(value: object) -> object:
    if value is None:
        return ""
    if isinstance(value, (int, float)) and not isinstance(value, bool) and abs(value) <= LATEST:
        return f"{value + LATEST:020.6f}"  # days counted from somewhere: as text they sort as they count
    if not isinstance(value, str) or len(value) > 40:
        raise UnreadableError("", "That is no day.", "Such as 2027-03-18.")
    return value


def _direction(value: object) -> object:
    if value not in DIRECTIONS:
        raise UnknownNameError("", "A blank lies any way, or along the sheet.", "any or along.")
    return value


DirectionKey = Annotated[Literal["any", "along"], BeforeValidator(_direction)]


def _many(value: object) -> int:
    said = read_figure(value, (), "Write a whole number.", "A count is a whole number.")
    if said != said // 1 or not 1 <= said <= MOST_BLANKS:
        raise OutOfRangeError("", f"{said:g} of them are no count for one plan.", f"From 1 to {MOST_BLANKS}.")
    return int(said)


#: How many alike there are: 1 to as many as one plan holds.
Many = Annotated[int, BeforeValidator(_many)]
Cost = Annotated[float, BeforeValidator(_cost)]
Name = Annotated[str, Field(max_length=120)]
#: A day as ISO text, so that earlier days come first; empty for one that nobody waits for.
Due = Annotated[str, BeforeValidator(_due)]


@request
class StockBar:
    """A piece of stock to cut from, ``count`` times alike [mm]; of equal pieces the cheaper is opened first."""

    id: Name
    length_mm: PositiveMm
    count: Many = 1
    cost: Cost = 0.0


@request
class StockSheet:
    """A sheet to cut from [mm]."""

    id: Name
    length_mm: PositiveMm
    width_mm: PositiveMm
    count: Many = 1


@request
class CutBlank:
    """A blank that is wanted, ``count`` times [mm]; ``width_mm`` where it comes from sheet.

    ``direction`` is along where a pattern runs along it, as along the sheet: then it is not turned.
    """

    id: Name
    length_mm: PositiveMm
    width_mm: PositiveMm | None = None
    count: Many = 1
    due: Due = ""
    direction: DirectionKey = "any"


@request
class CutRequest:
    """The pieces at hand and the blanks wanted [mm]. ``end_trim_mm`` is lost once a piece, to square its end."""

    kerf_mm: Mm = 0.0
    end_trim_mm: Mm = 0.0
    stock: Annotated[tuple[StockBar, ...], BeforeValidator(_most(MOST_PIECES, "pieces"))] = ()
    blanks: Annotated[tuple[CutBlank, ...], BeforeValidator(_most(MOST_BLANKS, "blanks"))]
    sheets: Annotated[tuple[StockSheet, ...], BeforeValidator(_most(MOST_SHEETS, "sheets"))] = ()
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what is no saw and no plan; raises OutOfRangeError at its field."""
        if self.kerf_mm > WIDEST_KERF_MM:
            raise OutOfRangeError(
                "kerf_mm",
                "No blade takes {kerf:g mm}.",
                "At most {most:g mm}.",
                kerf=self.kerf_mm,
                most=WIDEST_KERF_MM,
            )
        for field, listed, most in (("stock", self.stock, MOST_PIECES), ("blanks", self.blanks, MOST_BLANKS)):
            self._few(field, sum(one.count for one in listed), most)
        self._few("sheets", sum(one.count for one in self.sheets), MOST_SHEETS)
        if self.sheets:
            self._check_sheets()
        else:
            self._check_bars()

    @staticmethod
    def _few(field: str, count: int, most: int) -> None:
        if count > most:
            raise OutOfRangeError(field, f"{count} are more than one plan.", f"At most {most}.")

    def _check_sheets(self) -> None:
        if self.stock:
            raise UnreadableError("sheets", "Bars and sheets are two plans.", "Ask for one, then for the other.")
        for place, one in enumerate(self.blanks):
            if one.width_mm is None:
                raise UnreadableError(
                    f"blanks.{place}.width_mm", "How wide is it?", "A blank from sheet has a width."
                )

    def _check_bars(self) -> None:
        wide = next((place for place, one in enumerate(self.blanks) if one.width_mm is not None), None)
        if wide is None:
            return
        if not self.stock:
            raise UnreadableError("sheets", "Which sheets are they cut from?", "Name one at least.")
        raise UnreadableError(
            f"blanks.{wide}.width_mm", "A bar has its own width.", "Leave it out, or cut from sheets."
        )


#: A request whose bare figures are in its own units.
AnyCut = Annotated[CutRequest, IN_OWN_UNITS]
CUT: TypeAdapter[Any] = TypeAdapter(AnyCut)
