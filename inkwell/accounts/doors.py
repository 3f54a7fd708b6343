"""Who knocks at the doors, and when they have knocked too often.

Wrong passwords are counted for each account and for each caller, at every door: the screen's, the
records office's, the change of a password. All of them ask Django to authenticate, and
:class:`Patience` is asked first.
"""

from datetime import timedelta

from django.conf import settings
from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.signals import user_logged_in, user_login_failed
from django.core.exceptions import PermissionDenied
from django.dispatch import receiver
from django.utils.timezone import now

from inkwell.config.problems import Problem

from .models import WrongPassword

OF_AN_ACCOUNT, OF_A_CALLER = 10, 60
"""Wrong passwords for one account, and from one address, before a wait."""
WINDOW = timedelta(minutes=1)
"""How long one counts; so long is the wait at most, and nobody is shut out for longer."""


def caller_of(request):
    """Address of whoever asks.

    Only as many proxies as we are told of are believed (INKWELL_PROXIES): each of them appends the
    address it was asked from to X-Forwarded-For; what stands before is the caller's own claim.
    """
    claimed = [k.strip() for k in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")]
    proxies = settings.TRUSTED_PROXIES
    if proxies and len(claimed) >= proxies and claimed[-proxies]:
        return claimed[-proxies][:60]
    return request.META.get("REMOTE_ADDR", "")[:60]


def too_many(account, caller):
    """Whether an account or a caller has to wait."""
    recent = WrongPassword.objects.filter(at__gt=now() - WINDOW)
    return (
        recent.filter(account=account[:150]).count() >= OF_AN_ACCOUNT
        or recent.filter(caller=caller).count() >= OF_A_CALLER
    )


class Patience(ModelBackend):
    """Refuses whoever guessed too often, before any password is looked at."""

    def authenticate(self, request, username=None, password=None, **_):
        if request is not None and username and too_many(username, caller_of(request)):
            request.must_wait = True
            raise PermissionDenied
        return None


def ask_patience(request):
    """Tell whoever has to wait so, after a failed try.

    Raises
    ------
    Problem
        429.
    """
    if getattr(request, "must_wait", False):
        raise Problem(429, "Too many wrong passwords. Wait a minute before you try again.")


@receiver(user_login_failed)
def count(sender, credentials, request=None, **_):
    """Remember a try that failed; one that had to wait does not lengthen the wait."""
    if request is None or getattr(request, "must_wait", False):
        return
    account = str(credentials.get("username", ""))[:150]
    WrongPassword.objects.create(account=account, caller=caller_of(request))
    WrongPassword.objects.filter(at__lt=now() - 10 * WINDOW).delete()


@receiver(user_logged_in)
def forgive(sender, user, **_):
    """Who came in had the password after all."""
    WrongPassword.objects.filter(account=user.get_username()).delete()
