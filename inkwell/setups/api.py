"""Set-ups: the document and its revisions, the look of a draft, layers, files."""

import io
import json
from dataclasses import asdict
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from django.http import HttpResponse
from ninja import Query, Router, Schema, Status
from pydantic import Field

from inkwell.config.lines import ProblemOut, later, told
from inkwell.config.problems import Problem
from inkwell.productions.api import RoleName
from inkwell.productions.models import Role
from inkwell.productions.services import scene_for
from moth.camera import (
    HIGHEST,
    LOWEST,
    MIDDLE_GREY,
    STEPS,
    bt709,
    colour_gains,
    frame_exposure,
    mix,
    octave_table,
    source_levels,
)
from moth.document import Profile, load, parse, upgrade
from moth.document import Setup as Document
from moth.errors import Cancelled
from moth.judging import PARTS, PLANS, PROFILES
from moth.materials import MATERIALS
from moth.metering import read_setup
from moth.photometry import ATTACHMENTS, HEADS, NOISE, PATTERNS, PRICE
from moth.solving import CAUTION, MOVES
from moth.transport import half_spread, project, render_layer, see, sources
from moth.units import FULL_STOPS, ratio
from moth.world import anchor, build_world, landmarks

from . import services
from .rendering import COARSE, FULL, desk

router = Router()
RATIO_TABLE = (0, 1 / 3, 2 / 3, 1, 4 / 3, 5 / 3, 2, 3, 4, 5, 6)
"""Stops that the table of ratios lists."""
Gesture = Annotated[str, Field(min_length=1, max_length=120)]


class Crumb(Schema):
    id: int
    title: str


class SetupOut(Schema):
    id: int
    version: int
    role: RoleName
    document: Document
    gesture: str
    undo: str | None
    redo: str | None
    production: Crumb
    scene: Crumb


class NewSetup(Schema):
    title: Annotated[str, Field(min_length=1, max_length=80)]


class Edit(Schema):
    document: Document
    base_version: int
    gesture: Gesture


class Base(Schema):
    base_version: int


class LookIn(Schema):
    """A draft to look at; without a document, the stored one. `client` names the window that
    asks.
    """

    document: Document | None = None
    only: str | None = None
    step: Literal["third", "tenth"] = "third"
    client: Annotated[str, Field(max_length=60)] = "none"
    picture: bool = True


class MarkOut(Schema):
    id: str
    name: str
    receiver: Literal["dome", "disc"]
    position: tuple[float, float, float]
    direction: tuple[float, float, float]
    lux: float
    footcandles: float
    stop: float | None
    stop_words: str
    against_camera: float | None
    against_words: str
    by_unit: dict[str, float]


class RatioOut(Schema):
    school: str
    ratio: float | None
    stops: float | None
    words: str


class RatiosOut(Schema):
    combined: RatioOut
    single: RatioOut


class UnitReading(Schema):
    id: str
    angle: float
    height: float
    distance: float
    side: str
    beam: float
    field: float
    lumens: float
    face_lux: float
    face_footcandles: float
    stop_words: str
    dial: float
    dimmer_stops: float | None


class Readings(Schema):
    camera: str
    key: str | None
    marks: list[MarkOut]
    ratios: RatiosOut
    units: list[UnitReading]
    sentence: str


class LayerKeys(Schema):
    coarse: str
    full: str


class FacePlaces(Schema):
    """Where the first figure's eyes and the top of the head show in the frame, 0..1; None out of
    it.
    """

    eyes: tuple[float, float] | None
    crown: tuple[float, float] | None


class MixOut(Schema):
    """What the frame is mixed from."""

    exposure: float
    levels: dict[str, float]
    """What each source's layer is multiplied by, before colour and exposure: dimmers of units,
    levels of sky and sun.
    """
    colours: dict[str, tuple[float, float, float]]
    layers: dict[str, LayerKeys]


class LookOut(Schema):
    readings: Readings
    anchor: tuple[float, float, float]
    pins: dict[str, tuple[float, float] | None]
    face: FacePlaces
    half_width: float
    """Of the picture, at 1 m in front of the lens [m]."""


class LookLine(Schema):
    """A line of the answer: one of these."""

    mix: MixOut | None = None
    look: LookOut | None = None
    problem: ProblemOut | None = None


class HeadOut(Schema):
    key: str
    name: str
    shape: str
    size: tuple[float, float]
    peak: float
    beam: float
    field: float
    lumens: float
    watts: float
    weight: float
    cct: tuple[float, float]
    caution: str
    group: str
    colour: bool
    battery: float
    noise: str
    distance: float
    price: str
    figures: str


class SettingOut(Schema):
    key: str
    name: str
    low: float
    high: float
    default: float
    unit: str


class AttachmentOut(Schema):
    key: str
    name: str
    group: str
    settings: list[SettingOut]
    fits: list[str]
    weight: float
    price: str
    caution: str


class MaterialOut(Schema):
    key: str
    name: str
    group: str
    transmission: float
    returned: float
    reflectance: float
    mirror: float
    lobe: float
    lobe_width: float
    straight: float
    forward: float
    forward_width: float
    through: float
    colour: tuple[float, float, float]
    tint: float
    tolerance: float
    source: str


class MoveOut(Schema):
    key: str
    name: str
    caution: str


class PlanOut(Schema):
    key: str
    name: str
    steps: list[str]


class ProfileOut(Schema):
    key: str
    profile: Profile


class Constants(Schema):
    plans: list[PlanOut]
    profiles: list[ProfileOut]
    parts: dict[str, str]
    """Parts of a picture that targets are set for, by key."""
    ratios: list[tuple[float, float]]
    """Stops and the ratio of light they are."""
    grey: float
    """Linear signal of middle grey."""
    heads: list[HeadOut]
    attachments: list[AttachmentOut]
    materials: list[MaterialOut]
    moves: list[MoveOut]
    patterns: list[str]
    curve: list[int]
    """Display codes 0..255 of linear signals; see `octaves`."""
    octaves: tuple[int, int, int]
    """Lowest and highest power of two of a table of signals, and its steps in each octave."""
    full_stops: list[float]
    coarse: tuple[int, int]
    full: tuple[int, int]


class RevisionOut(Schema):
    number: int
    parent: int | None
    gesture: str
    author: str | None
    created: str
    current: bool


def _shown(setup, role):
    parent = setup.current.parent
    return {
        "id": setup.pk,
        "version": setup.version,
        "role": role,
        "document": upgrade(setup.current.document),
        "gesture": setup.current.gesture,
        "undo": setup.current.gesture if parent is not None else None,
        "redo": setup.revisions.get(number=setup.redo[-1]).gesture if setup.redo else None,
        "production": {"id": setup.scene.production_id, "title": setup.scene.production.title},
        "scene": {"id": setup.scene_id, "title": setup.scene.title},
    }


@lru_cache(maxsize=1)
def _constants():
    heads = []
    for head in HEADS.values():
        d = head.distribution
        plain = (
            "key",
            "name",
            "shape",
            "size",
            "peak",
            "watts",
            "weight",
            "cct",
            "caution",
            "group",
            "colour",
            "battery",
            "distance",
            "figures",
        )
        heads.append(
            {
                **{k: getattr(head, k) for k in plain},
                "beam": d.beam_angle,
                "field": d.field_angle,
                "lumens": d.lumens,
                "noise": NOISE[head.noise],
                "price": PRICE[head.price],
            }
        )
    attachments = [
        {
            "key": a.key,
            "name": a.name,
            "group": a.group,
            "settings": [asdict(s) for s in a.settings],
            "fits": list(a.fits),
            "weight": a.weight,
            "price": PRICE[a.price],
            "caution": a.caution,
        }
        for a in ATTACHMENTS.values()
    ]
    told = (
        "key",
        "name",
        "group",
        "transmission",
        "returned",
        "reflectance",
        "mirror",
        "lobe",
        "lobe_width",
        "straight",
        "forward",
        "forward_width",
        "through",
        "colour",
        "tint",
        "tolerance",
        "source",
    )
    materials = [{k: getattr(m, k) for k in told} for m in MATERIALS.values()]
    moves = [{"key": key, "name": name, "caution": CAUTION[key]} for key, name in MOVES.items()]
    return {
        "plans": [{"key": key, "name": p.name, "steps": list(p.steps)} for key, p in PLANS.items()],
        "profiles": [{"key": key, "profile": p} for key, p in PROFILES.items()],
        "parts": PARTS,
        "grey": MIDDLE_GREY,
        "ratios": [(s, ratio(s)) for s in RATIO_TABLE],
        "heads": heads,
        "attachments": attachments,
        "materials": materials,
        "moves": moves,
        "patterns": list(PATTERNS),
        "curve": np.round(255 * octave_table(bt709)).astype(int).tolist(),
        "octaves": (LOWEST, HIGHEST, STEPS),
        "full_stops": list(FULL_STOPS),
        "coarse": COARSE,
        "full": FULL,
    }


@router.get("/constants", response=Constants)
def constants(request):
    """Heads of the catalogue and the tables the screen looks things up in."""
    return _constants()


@router.post("/scenes/{int:pk}/setups", response={201: SetupOut})
def create_setup(request, pk: int, data: NewSetup):
    scene, role = scene_for(request.user, pk, Role.EDITOR)
    return Status(
        201,
        _shown(
            services.create(request.user, scene, load({**services.BLANK, "title": data.title})),
            role,
        ),
    )


@router.post("/scenes/{int:pk}/import", response={201: SetupOut})
def import_setup(request, pk: int):
    """A new set-up from a set-up file; the body is the file as it is."""
    scene, role = scene_for(request.user, pk, Role.EDITOR)
    return Status(
        201,
        _shown(
            services.create(request.user, scene, parse(request.body), "brought in from a file"),
            role,
        ),
    )


@router.get("/setups/{int:pk}", response=SetupOut)
def read_setup_record(request, pk: int):
    return _shown(*services.setup_for(request.user, pk))


@router.put("/setups/{int:pk}", response=SetupOut)
def revise_setup(request, pk: int, data: Edit):
    """Store one gesture. 409 with the newer document when somebody was quicker."""
    return _shown(
        *services.revise(request.user, pk, data.document, data.base_version, data.gesture)
    )


@router.post("/setups/{int:pk}/undo", response=SetupOut)
def undo(request, pk: int, data: Base):
    return _shown(*services.undo(request.user, pk, data.base_version))


@router.post("/setups/{int:pk}/redo", response=SetupOut)
def redo(request, pk: int, data: Base):
    return _shown(*services.redo(request.user, pk, data.base_version))


@router.delete("/setups/{int:pk}", response={204: None})
def delete_setup(request, pk: int):
    services.setup_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


@router.get("/setups/{int:pk}/revisions", response=list[RevisionOut])
def revisions(request, pk: int):
    """What was done, newest first, at most 200."""
    setup, _ = services.setup_for(request.user, pk)
    rows = setup.revisions.select_related("author").order_by("-number").defer("document")[:200]
    return [
        {
            "number": r.number,
            "parent": r.parent,
            "gesture": r.gesture,
            "author": r.author and r.author.username,
            "created": r.created.isoformat(),
            "current": r.pk == setup.current_id,
        }
        for r in rows
    ]


@router.post("/setups/{int:pk}/look", response=LookLine)
def look(request, pk: int, data: LookIn):
    """What a draft looks like, in two lines of JSON: what its frame is mixed from, at once; then
    what the meter reads.

    The layers named begin to be rendered and older wishes of this window stop. The coarse ones go
    before the meter.
    """
    document = services.draft(request.user, pk, data.document)
    camera = document.cameras[0]
    if data.only and data.only not in [source.id for source in sources(document)]:
        raise Problem(422, f"There is no unit '{data.only}' to solo.", "only")
    layers = (
        desk.wish(f"{request.user.pk}/{pk}/{data.client}", pk, document, camera)
        if data.picture
        else {}
    )
    mix = {
        "exposure": frame_exposure(camera),
        "levels": source_levels(document),
        "colours": colour_gains(document, camera),
        "layers": layers,
    }

    def read():
        with desk.meter_turn([pair["coarse"] for pair in layers.values()]):
            readings = read_setup(document, data.only, data.step)
        ids, places = zip(*((m["id"], m["position"]) for m in readings["marks"]), strict=True)
        eyes, top = project(camera, [anchor(document), landmarks(document.figures[0])["crown"]])
        return {
            "readings": readings,
            "pins": dict(zip(ids, project(camera, places), strict=True)),
            "face": {"eyes": eyes, "crown": top},
            "half_width": half_spread(camera)[0],
            "anchor": anchor(document).tolist(),
        }

    async def lines():
        yield {"mix": mix}
        yield await later(read, "look")

    return told(LookLine, lines())


@router.get("/setups/{int:pk}/layers/{key}", response={200: Any})
def layer(request, pk: int, key: str):
    """Bytes of a layer by its content hash; see moth.transport.encode_layer."""
    services.role_in(request.user, pk)
    try:
        data = desk.fetch(pk, key)
    except KeyError:
        raise Problem(404, "Nobody asked for this layer: look at the set-up first.") from None
    except Cancelled:
        raise Problem(410, "This layer was given up for a newer one.") from None
    response = HttpResponse(data, content_type="application/octet-stream")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@lru_cache(maxsize=200)
def _thumbnail(text, size=COARSE):
    document = load(json.loads(text))
    camera = document.cameras[0]
    world = build_world(document)
    view = see(world, document, camera, size)
    layers = {
        source.id: render_layer(world, view, source, document.haze) for source in sources(document)
    }
    frame = mix(document, camera, layers) if layers else np.zeros((size[1], size[0], 3), np.uint8)
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(frame).save(out, "PNG")
    return out.getvalue()


@router.get("/setups/{int:pk}/thumbnail.png", response={200: Any})
def thumbnail(request, pk: int, version: int = Query(0), large: bool = Query(False)):
    """The lit frame, small or as large as the desk's; name the version and it may be kept."""
    setup, _ = services.setup_for(request.user, pk)
    response = HttpResponse(
        _thumbnail(json.dumps(setup.current.document, sort_keys=True), FULL if large else COARSE),
        content_type="image/png",
    )
    response.headers["Cache-Control"] = (
        "private, max-age=86400" if version == setup.version else "no-cache"
    )
    return response


@router.get("/setups/{int:pk}/export", response={200: Any})
def export(request, pk: int):
    """The set-up as its file."""
    setup, _ = services.setup_for(request.user, pk)
    name = (
        "".join(c if c.isascii() and c.isalnum() else "-" for c in setup.title.lower()).strip("-")
        or "setup"
    )
    text = json.dumps(setup.current.document, indent=2, ensure_ascii=False) + "\n"
    response = HttpResponse(text, content_type="application/json; charset=utf-8")
    response.headers["Content-Disposition"] = f'attachment; filename="{name}.setup.json"'
    return response
