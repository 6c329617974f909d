from django.db import models

from versomark.core.giving.placement import PlacementTable
from versomark.school.delivery.models import Sitting
from versomark.school.editions.models import Edition


class Placement(models.Model):
    """What the scores of a sitting recommend."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="placement")
    table = models.JSONField()
    """The JSON of `core.giving.placement.PlacementTable`."""

    def __str__(self) -> str:
        return f"placement by {self.sitting}"

    def read(self) -> PlacementTable:
        return PlacementTable.model_validate(self.table)


class SecondPart(models.Model):
    """Where a first part decides the second: who falls in a band goes on with a test, in a sitting of its own."""

    placement = models.ForeignKey(Placement, on_delete=models.CASCADE, related_name="second_parts")
    band = models.PositiveSmallIntegerField()
    edition = models.ForeignKey(Edition, on_delete=models.PROTECT, related_name="+")
    sitting = models.OneToOneField(Sitting, null=True, on_delete=models.SET_NULL, related_name="second_part")
    """Made when the first student falls in the band."""

    class Meta:
        ordering = ["band"]
        constraints = [models.UniqueConstraint(fields=["placement", "band"], name="second_part_once_per_band")]

    def __str__(self) -> str:
        return f"{self.edition} after {self.placement}"
