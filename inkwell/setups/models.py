"""Set-ups, their revisions, and the commands that made them."""

from django.conf import settings
from django.db import models

from inkwell.productions.models import Scene


class Setup(models.Model):
    """A set-up: a pointer into its revisions. `version` rises with every change, undo and redo
    included.
    """

    scene = models.ForeignKey(Scene, models.CASCADE, related_name="setups")
    title = models.CharField(max_length=80)
    place = models.PositiveIntegerField(default=0, help_text="Place in its scene")
    units = models.PositiveIntegerField(default=0, help_text="Units of the revision that stands")
    version = models.PositiveIntegerField(default=1)
    current = models.ForeignKey("Revision", models.SET_NULL, null=True, related_name="+")
    redo = models.JSONField(
        default=list, help_text="Numbers of the revisions that redo would go to, last first"
    )
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["place", "id"]
        verbose_name = "set-up"

    def __str__(self):
        return self.title


class Revision(models.Model):
    """One gesture. Append-only: a revision is never changed.

    One that no undo leads back to is a branch: somebody's work that another's was taken over.
    """

    setup = models.ForeignKey(Setup, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.PositiveIntegerField(
        null=True, help_text="Number of the revision it was made from"
    )
    document = models.JSONField()
    gesture = models.CharField(max_length=120)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["setup", "number"]
        constraints = [models.UniqueConstraint(fields=["setup", "number"], name="revision_number")]

    def __str__(self):
        return f"{self.setup_id}.{self.number} {self.gesture}"

    def save(self, *args, **kwargs):
        if not self._state.adding:
            raise TypeError("revisions are append-only")
        super().save(*args, **kwargs)


class Command(models.Model):
    """A change that was carried out, by the key its sender gave it: sent again after a lost answer
    it is recognised, and what it came to is answered once more.
    """

    setup = models.ForeignKey(Setup, models.CASCADE, related_name="commands")
    key = models.CharField(max_length=40)
    version = models.PositiveIntegerField(help_text="Of the set-up, once it was carried out")
    revision = models.ForeignKey(Revision, models.CASCADE, related_name="+")
    redo = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["setup", "key"], name="one_command_a_key")]

    def __str__(self):
        return f"{self.setup_id} {self.key}"


class Frozen(models.Model):
    """A frame put aside to compare with: its picture, and the document it was lit by."""

    setup = models.ForeignKey(Setup, models.CASCADE, related_name="frozen")
    name = models.CharField(max_length=80)
    picture = models.BinaryField(help_text="JPEG")
    document = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created", "id"]
        verbose_name_plural = "frozen frames"

    def __str__(self):
        return f"{self.setup_id} {self.name}"
