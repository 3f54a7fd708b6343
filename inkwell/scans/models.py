"""Scans and models that a production has."""

from django.conf import settings
from django.db import models

from inkwell.productions.models import Production


class Scan(models.Model):
    """A model that was brought in; set-ups name it by its digest."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="scans")
    name = models.CharField(max_length=80)
    digest = models.CharField(max_length=32, db_index=True)
    data = models.BinaryField(help_text="As moth.place.scans packs it")
    facts = models.JSONField(help_text="As inkwell.scans.schemas.ScanFacts has it")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created", "-id"]
        constraints = [models.UniqueConstraint(fields=["production", "digest"], name="a_scan_once")]

    def __str__(self):
        return self.name
