"""Productions, members, scenes."""

from typing import Annotated, Literal

from ninja import Router, Schema, Status
from pydantic import Field, StringConstraints

from . import services
from .models import Production, Role, Scene

router = Router()
Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
RoleName = Literal["owner", "editor", "viewer"]


class Titled(Schema):
    title: Title


class MemberIn(Schema):
    username: Annotated[str, Field(min_length=1, max_length=150)]
    role: RoleName


class MemberOut(Schema):
    username: str
    role: RoleName


class SetupCard(Schema):
    id: int
    title: str
    version: int
    units: int


class SceneOut(Schema):
    id: int
    title: str
    setups: list[SetupCard]


class ProductionOut(Schema):
    id: int
    title: str
    role: RoleName
    members: list[MemberOut]
    scenes: list[SceneOut]


def _shown(production, role):
    scenes = production.scenes.prefetch_related("setups__current")
    return {
        "id": production.pk,
        "title": production.title,
        "role": role,
        "members": [
            {"username": m.user.username, "role": m.role}
            for m in production.memberships.select_related("user").order_by("id")
        ],
        "scenes": [
            {
                "id": s.pk,
                "title": s.title,
                "setups": [
                    {
                        "id": u.pk,
                        "title": u.title,
                        "version": u.version,
                        "units": len(u.current.document["units"]),
                    }
                    for u in s.setups.all()
                ],
            }
            for s in scenes
        ],
    }


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
    scene = Scene.objects.create(production=production, title=data.title)
    return Status(201, {"id": scene.pk, "title": scene.title, "setups": []})


@router.patch("/scenes/{int:pk}", response={204: None})
def rename_scene(request, pk: int, data: Titled):
    services.scene_for(request.user, pk, Role.EDITOR)
    Scene.objects.filter(pk=pk).update(title=data.title)
    return Status(204, None)


@router.delete("/scenes/{int:pk}", response={204: None})
def delete_scene(request, pk: int):
    services.scene_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)
