"""Productions, members, scenes."""

from django.contrib.auth import login
from django.middleware.csrf import get_token
from ninja import Router, Status
from ninja.utils import check_csrf

from inkwell.config.problems import Problem

from . import services
from .models import Production, Role, Scene
from .schemas import (
    InvitationOut,
    InvitedOut,
    InviteIn,
    JoinedOut,
    JoinIn,
    MemberIn,
    ProductionOut,
    SceneOut,
    ScenePlaceIn,
    Titled,
)

router = Router()


def _shown(production, role):
    members = production.memberships.select_related("user").order_by("id")
    scenes = production.scenes.prefetch_related("setups")
    return {
        "id": production.pk,
        "title": production.title,
        "role": role,
        "members": [{"username": m.user.username, "role": m.role} for m in members],
        "scenes": [_scene(scene) for scene in scenes],
    }


def _scene(scene):
    setups = [
        {"id": s.pk, "title": s.title, "version": s.version, "units": s.units}
        for s in scene.setups.all()
    ]
    return {"id": scene.pk, "title": scene.title, "setups": setups}


@router.get("/productions", response=list[ProductionOut])
def list_productions(request):
    """The productions you belong to, with their scenes and set-ups."""
    memberships = request.user.memberships.select_related("production").order_by(
        "production__title", "production_id"
    )
    return [_shown(m.production, m.role) for m in memberships]


@router.post("/productions", response={201: ProductionOut})
def create_production(request, data: Titled):
    return Status(201, _shown(services.create_production(request.user, data.title), Role.OWNER))


@router.get("/productions/{int:pk}", response=ProductionOut)
def read_production(request, pk: int):
    return _shown(*services.production_for(request.user, pk))


@router.patch("/productions/{int:pk}", response=ProductionOut)
def rename_production(request, pk: int, data: Titled):
    production, role = services.production_for(request.user, pk, Role.EDITOR)
    Production.objects.filter(pk=pk).update(title=data.title)
    production.title = data.title
    return _shown(production, role)


@router.delete("/productions/{int:pk}", response={204: None})
def delete_production(request, pk: int):
    services.production_for(request.user, pk, Role.OWNER)[0].delete()
    return Status(204, None)


@router.put("/productions/{int:pk}/members", response=ProductionOut)
def set_member(request, pk: int, data: MemberIn):
    production, role = services.production_for(request.user, pk, Role.OWNER)
    services.set_member(production, data.username, data.role)
    return _shown(production, services.allow(request.user, production))


@router.delete("/productions/{int:pk}/members/{username}", response={204: None})
def remove_member(request, pk: int, username: str):
    production, _ = services.production_for(request.user, pk, Role.OWNER)
    services.remove_member(production, username)
    return Status(204, None)


@router.post("/productions/{int:pk}/scenes", response={201: SceneOut})
def create_scene(request, pk: int, data: Titled):
    production, _ = services.production_for(request.user, pk, Role.EDITOR)
    scene = services.create_scene(production, data.title)
    return Status(201, {"id": scene.pk, "title": scene.title, "setups": []})


@router.patch("/scenes/{int:pk}", response={204: None})
def rename_scene(request, pk: int, data: Titled):
    services.scene_for(request.user, pk, Role.EDITOR)
    Scene.objects.filter(pk=pk).update(title=data.title)
    return Status(204, None)


@router.put("/scenes/{int:pk}/place", response={204: None})
def place_scene(request, pk: int, data: ScenePlaceIn):
    """Move a scene among those of its production: before another, or to the end."""
    scene, _ = services.scene_for(request.user, pk, Role.EDITOR)
    services.place_scene(scene, data.before)
    return Status(204, None)


@router.delete("/scenes/{int:pk}", response={204: None})
def delete_scene(request, pk: int):
    services.scene_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


@router.post("/productions/{int:pk}/invitations", response={201: InvitationOut})
def invite(request, pk: int, data: InviteIn):
    """A link for one person more, to be handed over by its maker; it holds for two weeks."""
    production, _ = services.production_for(request.user, pk, Role.OWNER)
    return Status(201, {"token": services.invite(request.user, production, data.role).token})


@router.get("/invitations/{token}", response=InvitedOut, auth=None)
def read_invitation(request, token: str):
    """What an invitation is to: whoever holds it may know."""
    found = services.invitation_for(token)
    return {
        "production": found.production.title,
        "role": found.role,
        "by": found.made_by.username,
    }


@router.post("/invitations/{token}", response=JoinedOut, auth=None)
def accept_invitation(request, token: str, data: JoinIn):
    """Follow an invitation: as who is signed in, or as a new person."""
    if check_csrf(request):
        raise Problem(403, "The page is out of date: load it again.")
    services.invitation_for(token)
    if request.user.is_authenticated:
        user, production = request.user, services.accept(request.user, token)
    else:
        if not data.username or not data.password:
            missing = "password" if data.username else "username"
            raise Problem(422, f"A {missing} is needed.", missing)
        user = services.join(data.username, data.password, token)
        production = user.productions.first()
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return {"production": production.pk, "username": user.username, "csrf": get_token(request)}
