"""Stills and what is marked in them."""

from django.conf import settings
from django.db import models

from inkwell.productions.models import Production


class Still(models.Model):
    """A picture that was brought in, kept with its production and gone with it."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="stills")
    title = models.CharField(max_length=80)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    code = models.BinaryField(help_text="Code values as moth.stills.kept keeps them")
    shown = models.BinaryField(help_text="As a display shows it, JPEG")
    record = models.JSONField(help_text="As moth.stills.marks.Record has it")
    marks = models.JSONField(default=dict, help_text="As moth.stills.marks.Marks has it")
    version = models.PositiveIntegerField(default=1)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created", "-id"]

    def __str__(self):
        return self.title
