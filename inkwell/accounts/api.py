"""Sign in, out, change the password."""

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.utils import check_csrf

from inkwell.config.problems import Problem

from .doors import ask_patience

router = Router()


class Credentials(Schema):
    username: str
    password: str


class PasswordChange(Schema):
    old: str
    new: str


class Session(Schema):
    username: str | None
    staff: bool = False
    csrf: str


def _session(request):
    user = request.user
    known = user.is_authenticated
    return {
        "username": user.username if known else None,
        "staff": known and user.is_staff,
        "csrf": get_token(request),
    }


@router.get("/session", response=Session, auth=None)
def read_session(request):
    """Who is signed in, and the token that edits must carry."""
    return _session(request)


@router.post("/session", response=Session, auth=None)
def sign_in(request, data: Credentials):
    if check_csrf(request):
        raise Problem(403, "The page is out of date: load it again and sign in.")
    user = authenticate(request, username=data.username, password=data.password)
    if user is None:
        ask_patience(request)
        raise Problem(401, "Name and password do not go together.", "password")
    login(request, user)
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request):
    logout(request)
    return _session(request)


@router.post("/session/password", response=Session)
def change_password(request, data: PasswordChange):
    # Through the same door as signing in, so that guesses count.
    if authenticate(request, username=request.user.username, password=data.old) is None:
        ask_patience(request)
        raise Problem(422, "That is not your present password.", "old")
    try:
        validate_password(data.new, request.user)
    except ValidationError as error:
        raise Problem(422, " ".join(error.messages), "new") from None
    request.user.set_password(data.new)
    request.user.save()
    update_session_auth_hash(request, request.user)
    return _session(request)
