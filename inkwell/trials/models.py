"""Trials and their cells."""

from django.conf import settings
from django.db import models

from inkwell.productions.models import Production


class Trial(models.Model):
    """One unit tried in many ways, kept with its production."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="trials")
    title = models.CharField(max_length=80)
    plan = models.JSONField(help_text="As moth.trials.TrialPlan has it")
    model = models.CharField(
        max_length=16, default="", help_text="Digest of the code and figures it was run with"
    )
    notes = models.TextField(blank=True, default="")
    stopped = models.BooleanField(default=False, help_text="Whether its cells wait to be asked for")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created", "-id"]

    def __str__(self):
        return self.title


class State(models.TextChoices):
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    IMPOSSIBLE = "impossible"


class Cell(models.Model):
    """One cell. It is named by its content: what another trial has found is taken over."""

    trial = models.ForeignKey(Trial, models.CASCADE, related_name="cells")
    row = models.PositiveIntegerField()
    column = models.PositiveIntegerField()
    key = models.CharField(max_length=64, db_index=True)
    document = models.JSONField(null=True, help_text="The set-up before its level is set")
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    fault = models.CharField(max_length=300, blank=True, default="")
    figures = models.JSONField(default=dict)
    words = models.JSONField(default=dict)
    png = models.BinaryField(null=True)
    exr = models.BinaryField(null=True)
    wall = models.JSONField(null=True, help_text="As moth.trials.wall_map gives it")
    seconds = models.FloatField(null=True)
    begun = models.PositiveIntegerField(
        default=0, help_text="How often it was given out: more than once after something broke"
    )
    favourite = models.BooleanField(default=False)

    class Meta:
        ordering = ["row", "column"]
        constraints = [
            models.UniqueConstraint(fields=["trial", "row", "column"], name="one_cell_a_place")
        ]
        indexes = [models.Index(fields=["state"])]

    def __str__(self):
        return f"{self.trial_id}: {self.row}, {self.column}"
