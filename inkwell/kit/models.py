"""The kit of a production, a row a kind of thing."""

from django.db import models

from inkwell.productions.models import Production


class Gear(models.Model):
    """A line of a kit: the fields of :class:`moth.planning.kit.Gear`, which says what they mean."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="gear")
    kind = models.CharField(max_length=16)
    name = models.CharField(max_length=80)
    key = models.CharField(max_length=60, blank=True, default="")
    count = models.PositiveIntegerField(default=1)
    price = models.FloatField(default=0.0)
    weight = models.FloatField(null=True, blank=True)
    watts = models.FloatField(null=True, blank=True)
    width = models.FloatField(null=True, blank=True)
    height = models.FloatField(null=True, blank=True)
    length = models.FloatField(null=True, blank=True)
    watt_hours = models.FloatField(null=True, blank=True)
    amperes = models.FloatField(null=True, blank=True)
    lux = models.FloatField(null=True, blank=True)
    distance = models.FloatField(null=True, blank=True)
    file = models.TextField(blank=True, default="")
    note = models.CharField(max_length=200, blank=True, default="")

    class Meta:
        ordering = ["id"]
        verbose_name = "line of a kit"
        verbose_name_plural = "kit"

    def __str__(self):
        return f"{self.count} × {self.name}"
