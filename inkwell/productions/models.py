"""Productions, who belongs to them, and their scenes."""

import secrets

from django.conf import settings
from django.db import models


class Role(models.TextChoices):
    OWNER = "owner"
    EDITOR = "editor"
    VIEWER = "viewer"


RANK = {Role.VIEWER: 0, Role.EDITOR: 1, Role.OWNER: 2}


class Production(models.Model):
    title = models.CharField(max_length=80)
    created = models.DateTimeField(auto_now_add=True)
    members = models.ManyToManyField(
        settings.AUTH_USER_MODEL, through="Membership", related_name="productions"
    )

    class Meta:
        ordering = ["title", "id"]

    def __str__(self):
        return self.title


class Membership(models.Model):
    production = models.ForeignKey(Production, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["production", "user"], name="one_role_a_person")
        ]

    def __str__(self):
        return f"{self.user} {self.role}"


class Scene(models.Model):
    production = models.ForeignKey(Production, models.CASCADE, related_name="scenes")
    title = models.CharField(max_length=80)
    place = models.PositiveIntegerField(default=0, help_text="Place in its production")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["place", "id"]

    def __str__(self):
        return self.title


class Invitation(models.Model):
    """A link that makes whoever follows it a member, once. No letter is sent: the owner hands it
    over.
    """

    production = models.ForeignKey(Production, models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Role.choices)
    token = models.CharField(max_length=64, unique=True, default=secrets.token_urlsafe)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    used_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+"
    )
    used = models.DateTimeField(null=True)

    def __str__(self):
        return f"{self.production} as {self.role}"
