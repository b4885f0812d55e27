"""What was really done at the joints, against what was planned: passes, file, solder."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import SOLDERS
from ringcraft.schema import Count, Mm, name_of, request

MOST_FILED_MM, MOST_JOINTS = 10.0, 60
_AnySolder = name_of("solder", SOLDERS)


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_JOINTS:
        raise OutOfRangeError("", "More joints than a ring has.", f"At most {MOST_JOINTS}.")
    return value


@request
class AsMade:
    """What was done at the joint of a piece, of the one that sets the size where none is named.

    ``passes`` of the saw in all, None as planned; ``filed_mm`` is what the file took beyond the plan.
    """

    piece: Annotated[str, Field(max_length=60)] = ""
    passes: Count | None = None
    filed_mm: Mm = 0.0

    def __post_init__(self) -> None:
        """Refuse what no file takes."""
        if self.filed_mm > MOST_FILED_MM:
            raise OutOfRangeError(
                "filed_mm", "No file takes {much:g mm} there.", "At most {most:g mm}.",
                much=self.filed_mm, most=MOST_FILED_MM,
            )  # fmt: skip


@request
class SeamSolder:
    """The solder that was chosen for a joint, in place of the ladder's."""

    joint: Annotated[str, Field(max_length=60)]
    solder: _AnySolder


Made = Annotated[tuple[AsMade, ...], BeforeValidator(_few)]
SeamSolders = Annotated[tuple[SeamSolder, ...], BeforeValidator(_few)]
NOTHING = AsMade()


def made_at(made: Sequence[AsMade], piece: str) -> AsMade:
    """What was done at the joint of a piece; nothing but the plan where nobody said. The last word holds."""
    return next((one for one in reversed(made) if one.piece == piece), NOTHING)


def beyond_mm(one: AsMade, planned_passes: int, kerf_mm: float) -> float:
    """What saw and file took beyond the plan [mm], less than nothing where a pass was left out.

    >>> round(beyond_mm(AsMade(passes=3, filed_mm=0.1), 1, 0.3), 3)
    0.7
    """
    passes = planned_passes if one.passes is None else one.passes
    return (passes - planned_passes) * kerf_mm + one.filed_mm
