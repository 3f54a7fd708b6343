"""Who may do what, and changes to productions."""

from datetime import timedelta

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import Http404
from django.utils.timezone import now

from inkwell.accounts.models import User
from inkwell.config.problems import Problem

from .models import RANK, Invitation, Membership, Production, Role, Scene


def allow(user, production, least=Role.VIEWER):
    """Role of a person in a production.

    Raises
    ------
    Http404
        For people outside: they do not learn that it exists.
    Problem
        403 for members whose role is too small.
    """
    return enough(Membership.objects.filter(production=production, user=user), least)


def enough(memberships, least):
    """Role of the one membership that a query finds, or Http404 / 403 as :func:`allow`."""
    found = list(memberships.values_list("role", flat=True)[:1])
    if not found:
        raise Http404
    role = Role(found[0])
    if RANK[role] < RANK[least]:
        raise Problem(403, f"You are {role} here; this takes an {least}.")
    return role


def production_for(user, pk, least=Role.VIEWER):
    """(production, role) or Http404 / 403."""
    production = Production.objects.filter(pk=pk).first()
    if production is None:
        raise Http404
    return production, allow(user, production, least)


def scene_for(user, pk, least=Role.VIEWER):
    """(scene, role) or Http404 / 403."""
    scene = Scene.objects.select_related("production").filter(pk=pk).first()
    if scene is None:
        raise Http404
    return scene, allow(user, scene.production, least)


@transaction.atomic
def create_production(user, title):
    production = Production.objects.create(title=title)
    Membership.objects.create(production=production, user=user, role=Role.OWNER)
    return production


@transaction.atomic
def create_scene(production, title, after=None):
    """A scene at the end of a production, or right after another of it."""
    scenes = list(production.scenes.select_for_update())
    scene = Scene.objects.create(production=production, title=title)
    at = len(scenes) if after is None else [s.pk for s in scenes].index(after.pk) + 1
    _put_in_order([*scenes[:at], scene, *scenes[at:]])
    return scene


@transaction.atomic
def place_scene(scene, before):
    """Put a scene before another of its production, or at the end."""
    others = [s for s in scene.production.scenes.select_for_update() if s.pk != scene.pk]
    at = next((k for k, s in enumerate(others) if s.pk == before), len(others))
    _put_in_order([*others[:at], scene, *others[at:]])


def _put_in_order(scenes):
    for place, scene in enumerate(scenes):
        Scene.objects.filter(pk=scene.pk).update(place=place)


@transaction.atomic
def set_member(production, username, role):
    """Give a person a role; the last owner stays one."""
    user = User.objects.filter(username=username).first()
    if user is None:
        raise Problem(422, f"There is nobody called '{username}' here.", "username")
    _keep_an_owner(production, user, role)
    Membership.objects.update_or_create(production=production, user=user, defaults={"role": role})


INVITED = timedelta(days=14)
"""How long an invitation holds."""


def invite(user, production, role):
    """An invitation to a production."""
    return Invitation.objects.create(production=production, role=role, made_by=user)


def invitation_for(token, lock=False):
    """An invitation that still holds.

    Raises
    ------
    Problem
        404 for one that never was, was used, or is too old.
    """
    rows = Invitation.objects.select_related("production", "made_by")
    rows = rows.select_for_update(of=("self",)) if lock else rows
    found = rows.filter(token=token, used=None, created__gt=now() - INVITED).first()
    if found is None:
        raise Problem(404, "This invitation was used, or is older than two weeks. Ask for another.")
    return found


@transaction.atomic
def accept(user, token):
    """Make a person a member by an invitation; who is one already keeps the greater role."""
    invitation = invitation_for(token, lock=True)
    membership, made = Membership.objects.get_or_create(
        production=invitation.production, user=user, defaults={"role": invitation.role}
    )
    if not made and RANK[Role(membership.role)] < RANK[Role(invitation.role)]:
        membership.role = invitation.role
        membership.save()
    invitation.used, invitation.used_by = now(), user
    invitation.save()
    return invitation.production


@transaction.atomic
def join(username, password, token):
    """A new person, by an invitation."""
    invitation_for(token, lock=True)
    if User.objects.filter(username__iexact=username).exists():
        raise Problem(422, "There is somebody of this name here; take another.", "username")
    user = User(username=username)
    try:
        User.username_validator(username)
    except ValidationError as error:
        raise Problem(422, " ".join(error.messages), "username") from None
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Problem(422, " ".join(error.messages), "password") from None
    user.set_password(password)
    user.save()
    accept(user, token)
    return user


@transaction.atomic
def remove_member(production, username):
    membership = Membership.objects.filter(production=production, user__username=username).first()
    if membership is None:
        raise Http404
    _keep_an_owner(production, membership.user, None)
    membership.delete()


def _keep_an_owner(production, user, role):
    owners = Membership.objects.select_for_update().filter(production=production, role=Role.OWNER)
    if role != Role.OWNER and [m.user_id for m in owners] == [user.pk]:
        raise Problem(422, "A production keeps at least one owner.", "role")
