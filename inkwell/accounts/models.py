"""People who sign in."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """A person of the crew; Django's user, ours so that it can grow."""


class WrongPassword(models.Model):
    """A try that failed; see doors.py."""

    account = models.CharField(max_length=150, db_index=True)
    caller = models.CharField(max_length=60, db_index=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    def __str__(self):
        return f"{self.account} from {self.caller}"
