"""The light of a draft looked into: one unit's way, level maps, rigs in one move, cloths by two
readings, photometric files.
"""

from typing import Annotated, Any, Literal

from django.http import HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from moth.document import Material as OwnMaterial
from moth.document import Setup as Document
from moth.document import load
from moth.errors import MothError
from moth.inspection import inspect_unit, level_map
from moth.materials import MATERIALS, calibrated
from moth.photometry import HEADS, lamp_of, write_ies, write_ldt
from moth.solving import CAUTION, MOVES, make
from moth.transport import sources

from . import services
from .rendering import desk

router = Router()


class InspectIn(Schema):
    """A draft whose one unit is looked into; without a document, the stored one."""

    document: Document | None = None
    unit: str
    step: Literal["third", "tenth"] = "third"


class WayOut(Schema):
    name: str
    share: float


class StageOut(Schema):
    name: str
    kind: str
    lux: float
    stops: float | None
    words: str
    note: str


class CostOut(Schema):
    stops: float
    words: str
    path: float


class SizeOut(Schema):
    width: float
    height: float
    distance: float
    degrees: float


class ShadowOut(Schema):
    cheek: float
    backdrop: float | None
    wrap: float
    to_backdrop: float | None


class WidthsOut(Schema):
    half: float
    one: float
    one_and_half: float


class CoverageOut(Schema):
    widths: WidthsOut
    falloff: float | None


class SpillOut(Schema):
    stops: float
    words: str


class WhiteOut(Schema):
    kelvin: float
    green: float


class InspectOut(Schema):
    id: str
    origin: str
    lux: float
    footcandles: float
    stop_words: str
    ways: list[WayOut]
    stages: list[StageOut]
    cost: CostOut | None
    size: SizeOut
    shadow: ShadowOut
    coverage: CoverageOut
    spill: SpillOut | None
    white: WhiteOut
    faults: list[str]


class MapIn(Schema):
    document: Document | None = None
    plane: Literal["floor", "face", "north", "south", "east", "west"]
    only: str | None = None


class MapOut(Schema):
    plane: str
    corner: tuple[float, float, float]
    along: tuple[float, float, float]
    up: tuple[float, float, float]
    columns: int
    rows: int
    lux: list[float]


class RigIn(Schema):
    """A draft in which one unit is to be rigged by a move of the catalogue."""

    document: Document
    unit: str
    move: str
    material: Annotated[str, Field(max_length=60)] | None = None
    size: (
        tuple[Annotated[float, Field(ge=0.05, le=12)], Annotated[float, Field(ge=0.05, le=12)]]
        | None
    ) = None


class RigOut(Schema):
    document: Document
    gesture: str
    caution: str


class StopIn(Schema):
    client: Annotated[str, Field(max_length=60)]


class CalibrateIn(Schema):
    """Two readings of one cloth, with it and without, in any one unit."""

    material: Annotated[str, Field(max_length=60)]
    id: Annotated[str, Field(max_length=40)]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    with_it: float
    without: float


@router.post("/setups/{int:pk}/inspect", response=InspectOut)
def inspect(request, pk: int, data: InspectIn):
    """One unit under the glass: ways, stages and their losses, size, shadow, coverage, spill,
    white, faults.
    """
    document = services.draft(request.user, pk, data.document)
    if data.unit not in [u.id for u in document.units]:
        raise Problem(422, f"There is no unit '{data.unit}' to look into.", "unit")
    return inspect_unit(document, data.unit, data.step)


@router.post("/setups/{int:pk}/map", response=MapOut)
def light_map(request, pk: int, data: MapIn):
    """Levels over the floor, the height of the eyes or a wall."""
    document = services.draft(request.user, pk, data.document)
    if data.only and data.only not in [source.id for source in sources(document)]:
        raise Problem(422, f"There is no unit '{data.only}' to map.", "only")
    return level_map(document, data.plane, data.only)


@router.post("/setups/{int:pk}/rig", response=RigOut)
def rig(request, pk: int, data: RigIn):
    """The draft with one unit rigged anew; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    document = make(data.document, data.unit, data.move, data.material, data.size)
    services.check(document)
    name = next(u.name for u in document.units if u.id == data.unit)
    return {
        "document": document,
        "gesture": f"{name}: {MOVES[data.move][0].lower()}{MOVES[data.move][1:]}",
        "caution": CAUTION[data.move],
    }


@router.post("/materials/calibrate", response=OwnMaterial)
def calibrate(request, data: CalibrateIn):
    """A cloth of one's own from two readings, to be put into a set-up's materials."""
    if data.material not in MATERIALS:
        raise Problem(422, f"There is no cloth '{data.material}' in the catalogue.", "material")
    try:
        made = calibrated(MATERIALS[data.material], data.with_it, data.without)
    except MothError as error:
        raise Problem(422, error.sentence, error.path) from None
    shares = {
        k: getattr(made, k)
        for k in (
            "reflectance",
            "mirror",
            "lobe",
            "lobe_width",
            "straight",
            "forward",
            "forward_width",
            "through",
            "tint",
            "colour",
        )
    }
    return OwnMaterial(id=data.id, name=data.name, **shares)


@router.get("/setups/{int:pk}/units/{unit}/photometry.{kind}", response={200: Any})
def photometry_file(request, pk: int, unit: str, kind: Literal["ies", "ldt"]):
    """A unit's light, attachments and all, as a photometric file."""
    setup, _ = services.setup_for(request.user, pk)
    found = next((u for u in load(setup.current.document).units if u.id == unit), None)
    if found is None:
        raise Problem(404, f"There is no unit '{unit}' here.")
    lamp, watts = lamp_of(found), HEADS[found.head].watts
    size = (
        (-lamp.size[0], -lamp.size[0])
        if lamp.shape == "disc" and kind == "ies"
        else (lamp.size[0], 0.0)
        if lamp.shape == "disc"
        else lamp.size
    )
    text = (write_ies if kind == "ies" else write_ldt)(lamp.distribution, size, found.name, watts)
    response = HttpResponse(text, content_type="text/plain; charset=latin-1")
    response.headers["Content-Disposition"] = f'attachment; filename="{unit}.{kind}"'
    return response


@router.post("/setups/{int:pk}/stop", response={204: None})
def stop(request, pk: int, data: StopIn):
    """Give up the layers that a window still waits for; what others wait for goes on."""
    services.role_in(request.user, pk)
    desk.drop(f"{request.user.pk}/{pk}/{data.client}")
    return Status(204, None)
