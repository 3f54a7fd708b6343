"""People who sign in."""

from django.contrib.auth.models import AbstractUser


class User(AbstractUser):
    """A person of the crew; Django's user, ours so that it can grow."""
