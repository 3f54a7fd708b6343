"""Days of a production."""

from django.conf import settings
from django.db import models

from inkwell.productions.models import Production


class Day(models.Model):
    """What is asked of a day, and the order that was found for it."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="days")
    title = models.CharField(max_length=80)
    asked = models.JSONField(help_text="As moth.planning.day.ShootDay has it")
    plan = models.JSONField(null=True, help_text="As moth.planning.order.DayPlan has it")
    made_of = models.CharField(
        max_length=64, blank=True, default="", help_text="Digest of what the plan was made of"
    )
    version = models.PositiveIntegerField(default=1)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["asked__date", "id"]

    def __str__(self):
        return self.title
