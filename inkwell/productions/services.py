"""Who may do what, and changes to productions."""

from django.db import transaction
from django.http import Http404

from inkwell.accounts.models import User
from inkwell.config.problems import Problem

from .models import RANK, Membership, Production, Role, Scene


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
def set_member(production, username, role):
    """Give a person a role; the last owner stays one."""
    user = User.objects.filter(username=username).first()
    if user is None:
        raise Problem(422, f"There is nobody called '{username}' here.", "username")
    _keep_an_owner(production, user, role)
    Membership.objects.update_or_create(production=production, user=user, defaults={"role": role})


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
