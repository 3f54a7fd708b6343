"""Scans and models: brought in from a file, looked at, taken off the list."""

from typing import Any

from django.http import HttpResponse
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from inkwell.productions.models import Role
from inkwell.productions.services import production_for

from . import services
from .schemas import ScanName, ScanOut, UpAxis

router = Router()


def _out(scan):
    return {
        **scan.facts,
        "id": scan.pk,
        "name": scan.name,
        "digest": scan.digest,
        "author": scan.author.username if scan.author else None,
        "created": scan.created.isoformat(),
    }


@router.get("/productions/{int:pk}/scans", response=list[ScanOut])
def list_scans(request, pk: int):
    """The scans and models of a production, newest first."""
    production, _ = production_for(request.user, pk)
    return [_out(s) for s in production.scans.select_related("author").defer("data")]


@router.post("/productions/{int:pk}/scans", response={201: ScanOut})
def bring_scan(request, pk: int, name: Form[ScanName], up: Form[UpAxis], file: File[UploadedFile]):
    """Bring a model in: GLB or OBJ, or a zip of one with its textures. The file is not kept."""
    production, _ = production_for(request.user, pk, Role.EDITOR)
    return Status(201, _out(services.bring_in(request.user, production, name, up, file)))


@router.get("/scans/{int:pk}/{view}.png", response={200: Any})
def scan_picture(request, pk: int, view: str):
    """A scan from above, from its front or from its side."""
    scan, _ = services.scan_for(request.user, pk)
    response = HttpResponse(services.picture(scan, view), content_type="image/png")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@router.delete("/scans/{int:pk}", response={204: None})
def delete_scan(request, pk: int):
    """Take a scan off the list, for good; refused while a set-up holds it."""
    services.delete(request.user, pk)
    return Status(204, None)
