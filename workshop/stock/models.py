"""A piece of stock and its movements: what is there is their sum, and rows are only ever added."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from ringcraft.metals import METALS
from ringcraft.sections import Section
from ringcraft.stock.drawer import KINDS, StockPiece, section_of_piece
from workshop.jobs.models import Job
from workshop.people.models import Workshop

#: What a movement is, as the history says it.
MOVES = {
    "in": "came in",
    "cut": "cut for a job",
    "offcut": "kept as an offcut",
    "melt": "melted",
    "scrap": "to the scrap",
    "filings": "to the filings",
    "used": "used up",
    "solder": "flowed in a joint",
    "correct": "counted again",
}


def called_of(name: str, kind: str, number: int) -> str:
    """How a piece is called: by its own name, or by its kind and number."""
    return name or f"{KINDS[kind].title if kind in KINDS else kind} {number}"


class StockItem(models.Model):
    """A piece in the drawer: what it is, whose it is, where it lies. Lengths in mm, masses in g.

    ``length_mm`` and ``mass_g`` are the sums of its movements, kept so that a drawer is read without adding them up;
    ``moves`` counts them, so that two people cannot cut the same bar from the same knowledge. ``job`` binds a
    customer's or a family's metal to its job, ``owner`` is whose it is. ``version`` counts edits of its words.
    ``stock`` names what it is of (``stock_key``), so that a drawer of any size is added up where it is kept.
    """

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="stock")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    metal = models.CharField(max_length=40)
    profile = models.CharField(max_length=20, blank=True, default="")
    thickness_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    width_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    side_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    state = models.CharField(max_length=20, default="clean")
    poured = models.BooleanField(default=False)
    solder = models.CharField(max_length=80, blank=True, default="")
    name = models.CharField(max_length=80, blank=True, default="")
    lot = models.CharField(max_length=80, blank=True, default="")
    place = models.CharField(max_length=80, blank=True, default="")
    price = models.DecimalField(max_digits=12, decimal_places=3, null=True)
    owner = models.CharField(max_length=120, blank=True, default="")
    job = models.ForeignKey(Job, null=True, on_delete=models.PROTECT, related_name="own_metal")
    came_from = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="gave")
    density_g_cm3 = models.DecimalField(max_digits=9, decimal_places=4)
    stock = models.CharField(max_length=100, blank=True, default="")
    length_mm = models.DecimalField(max_digits=13, decimal_places=4, null=True)
    mass_g = models.DecimalField(max_digits=13, decimal_places=4, default=0)
    moves = models.PositiveIntegerField(default=0)
    version = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="stock_number_once")]
        indexes = [
            models.Index(fields=["workshop", "kind", "mass_g"], name="stock_in_drawer"),
            models.Index(fields=["workshop", "stock", "job", "length_mm", "mass_g"], name="stock_by_stock"),
        ]
        ordering = ["number"]

    def __str__(self) -> str:
        return self.called

    @property
    def called(self) -> str:
        """How the shop calls it: its own name, or its kind and number."""
        return called_of(self.name, self.kind, self.number)

    @property
    def asked(self) -> StockPiece:
        """What it is, as ringcraft asks for it."""
        return StockPiece(
            kind=self.kind,
            metal=self.metal,
            profile=self.profile or None,
            thickness_mm=_float(self.thickness_mm),
            width_mm=_float(self.width_mm),
            side_mm=_float(self.side_mm),
            state=self.state,
            poured=self.poured,
        )

    @property
    def section(self) -> Section | None:
        """Its section; None for what is told by its mass alone."""
        return section_of_piece(self.asked)

    def g_of(self, volume_mm3: float) -> float:
        """What a volume of it weighs [g], by the density it came in with."""
        return volume_mm3 * float(self.density_g_cm3) / 1000

    def stock_key(self) -> str:
        """What it is of: its metal and its section; empty for what is told by its mass alone."""
        section = self.section
        if section is None:
            return ""
        if self.kind == "sheet":
            return f"{self.metal}:sheet:{section.thickness_mm:.2f}"
        profile = "rectangle" if section.profile in ("sheet", "square") else section.profile
        return f"{self.metal}:{profile}:{section.width_mm:.2f}x{section.thickness_mm:.2f}:{section.side_mm:.2f}"

    @property
    def g_per_mm(self) -> float:
        """What a millimetre of it weighs [g], as it was weighed and measured; by its section where it is used up."""
        if self.length_mm:
            return float(self.mass_g) / float(self.length_mm)
        section = self.section
        return self.g_of(section.area_mm2) if section else 0.0

    @property
    def metal_title(self) -> str:
        """Its metal in words."""
        return METALS[self.metal].title if self.metal in METALS else self.metal


def _float(value: object) -> float | None:
    return None if value is None else float(value)  # type: ignore[arg-type]


class Movement(models.Model):
    """One change of a piece: what, how much [mm, g; less than nothing where it leaves], for which job, where to.

    ``other`` is the piece that it went to or came from, ``batch`` what was booked together.
    """

    item = models.ForeignKey(StockItem, on_delete=models.PROTECT, related_name="movements")
    nth = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    length_mm = models.DecimalField(max_digits=13, decimal_places=4, null=True)
    mass_g = models.DecimalField(max_digits=13, decimal_places=4)
    job = models.ForeignKey(Job, null=True, on_delete=models.PROTECT, related_name="stock_moves")
    blank = models.CharField(max_length=60, blank=True, default="")
    other = models.ForeignKey(StockItem, null=True, on_delete=models.PROTECT, related_name="+")
    batch = models.CharField(max_length=32, blank=True, default="")
    note = models.CharField(max_length=200, blank=True, default="")
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["item", "nth"], name="movement_nth_once")]
        indexes = [
            models.Index(fields=["job", "kind"], name="movement_of_job"),
            models.Index(fields=["batch"], name="movement_of_batch"),
        ]
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.item_id} {self.kind} {self.mass_g}"


class JobBlanks(models.Model):
    """The blanks that a job wants cut, worked out from its plan for what was measured; ``stamp`` is by which engine.

    No record: worked out anew whenever the job's order, its measures or its joints change.
    """

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="blanks_wanted")
    stamp = models.CharField(max_length=80)
    blanks = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"{self.job_id} {self.stamp}"


class TakenBack(models.Model):
    """What was booked together and was taken back, by what: once, whoever asks at the same time."""

    batch = models.CharField(max_length=32, unique=True)
    by_batch = models.CharField(max_length=32, unique=True)
    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    def __str__(self) -> str:
        return self.batch
