"""The light of a draft looked into: one unit, the picture, the meter, the lens, two set-ups."""

import math
from typing import Any, Literal

from django.http import HttpResponse
from ninja import Router

from inkwell.config.problems import Problem
from inkwell.config.text import file_name
from inkwell.productions.models import Role
from inkwell.rendering.answers import Rank
from inkwell.rendering.jobs import COARSE
from inkwell.rendering.service import answered, engine
from inkwell.setups import services
from moth.document import Material as OwnMaterial
from moth.document import at_state, load
from moth.errors import MothError
from moth.inspection import (
    Holding,
    Inspection,
    Landing,
    LevelMap,
    Pointed,
    grip_holding,
    inspect_unit,
    landing,
    level_map,
    pointed_at,
)
from moth.judging import compare
from moth.materials import MATERIALS, calibrated
from moth.metering import SchoolReading
from moth.photometry import HEADS, lamp_of, write_ies, write_ldt
from moth.solving import CAUTION, MOVES, TRIES, Proposal, Restored, Wish, restored, roaming
from moth.sun import Day, SunAim, day_of, sun_aims
from moth.transport import sources

from . import questions
from .constants import constants
from .schemas import (
    AgainstIn,
    AskIn,
    BoardIn,
    BoardOut,
    CalibrateIn,
    CameraIn,
    ComparedOut,
    Constants,
    DraftIn,
    FlagIn,
    GripIn,
    InspectIn,
    LevelIn,
    LevelledOut,
    MapIn,
    MatchedOut,
    PointIn,
    RatioIn,
    ReadingIn,
    RestoreIn,
    RigIn,
    RigOut,
    SolvedOut,
    StandUpIn,
    SunAimIn,
    TrialIn,
    WalkIn,
)

router = Router()


def _analysed(request, question, document, *args):
    """A question's answer, worked out by the engine."""
    return answered(engine().ask(request.user.pk, Rank.ANALYSIS, question, document, *args))


def _of_picture(request, question, document, *args):
    """The same for a question that looks at the small picture."""
    asked = engine().ask_of_picture(
        request.user.pk, Rank.ANALYSIS, COARSE, question, document, *args
    )
    return answered(asked)


@router.get("/constants", response=Constants)
def read_constants(request):
    """Heads of the catalogue and the tables the screen looks things up in."""
    return constants()


@router.post("/camera/facts", response=questions.CameraFacts)
def camera_facts(request, data: CameraIn):
    """What a camera's settings come to; nothing is stored. 422 for a log curve that cannot be."""
    return questions.camera_facts(data.camera, data.distance)


@router.post("/setups/{int:pk}/lens", response={200: Any})
def lens(request, pk: int, data: DraftIn):
    """How wide a point shows at each pixel of the whole picture: little-endian half floats [px],
    row by row.
    """
    document = services.draft(request.user, pk, data.document)
    widths = _analysed(request, questions.blur_widths, document)
    return HttpResponse(widths, content_type="application/octet-stream")


@router.get("/setups/{int:pk}/model", response={200: Any})
def model(request, pk: int):
    """The whole set-up as a model file for anyone's viewer: binary glTF, in metres."""
    setup, _ = services.setup_for(request.user, pk)
    document = services.draft(request.user, pk, None)
    # With it comes a library that a server starts sooner without.
    from moth.glb import to_glb

    response = HttpResponse(_analysed(request, to_glb, document), content_type="model/gltf-binary")
    name = f"{file_name(setup.title)}.glb"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.post("/setups/{int:pk}/inspect", response=Inspection)
def inspect(request, pk: int, data: InspectIn):
    """One unit under the glass: ways, stages and their losses, size, shadow, coverage, spill,
    white, faults.
    """
    document = services.draft(request.user, pk, data.document)
    if data.unit not in [u.id for u in document.units]:
        raise Problem(422, f"There is no unit '{data.unit}' to look into.", "unit")
    return _analysed(request, inspect_unit, document, data.unit, data.say)


@router.post("/setups/{int:pk}/landing", response=Landing)
def where_it_lands(request, pk: int, data: InspectIn):
    """The outline of one unit's beam on the surfaces, through windows and by mirrors."""
    document = services.draft(request.user, pk, data.document)
    if data.unit not in [u.id for u in document.units]:
        raise Problem(422, f"There is no unit '{data.unit}' to follow.", "unit")
    return _analysed(request, landing, document, data.unit)


@router.post("/setups/{int:pk}/day", response=Day)
def the_day(request, pk: int, data: DraftIn):
    """Sun and sky of a draft's place through its day, and what they do to the set-up."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, day_of, document)


@router.post("/setups/{int:pk}/sun-aims", response=list[SunAim])
def aim_from_the_sun(request, pk: int, data: SunAimIn):
    """How a reflector is turned to throw the sun at the face, now and every ten minutes."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, sun_aims, document, data.grip)


@router.post("/setups/{int:pk}/point", response=Pointed)
def point(request, pk: int, data: PointIn):
    """Where a meter is held to what a place of the frame shows; nothing is stored."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, pointed_at, document, data.x, data.y)


@router.post("/setups/{int:pk}/map", response=LevelMap)
def light_map(request, pk: int, data: MapIn):
    """Levels over the floor, the height of the eyes or a wall."""
    document = services.draft(request.user, pk, data.document)
    if data.only and data.only not in [source.id for source in sources(document)]:
        raise Problem(422, f"There is no unit '{data.only}' to map.", "only")
    return _analysed(request, level_map, document, data.plane, data.only)


@router.post("/setups/{int:pk}/rig", response=RigOut)
def rig(request, pk: int, data: RigIn):
    """The draft with one unit rigged anew; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    asked = data.unit, data.move, data.material, data.size
    document = _analysed(request, questions.rigged, data.document, *asked)
    name = next(u.name for u in document.units if u.id == data.unit)
    return {
        "document": document,
        "gesture": f"{name}: {MOVES[data.move][0].lower()}{MOVES[data.move][1:]}",
        "caution": CAUTION[data.move],
    }


@router.post("/setups/{int:pk}/flag", response=RigOut)
def flag(request, pk: int, data: FlagIn):
    """The draft with a flag that keeps a unit's light off a thing and leaves the face alone;
    nothing is stored. 422 says why there is none.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    found = _analysed(request, questions.flagged, data.document, data.unit, data.thing, data.say)
    return {"document": found.setup, "gesture": found.words, "caution": CAUTION["negative"]}


@router.post("/setups/{int:pk}/holding", response=Holding)
def holding(request, pk: int, data: GripIn):
    """How one piece of grip is held: why that cannot be, and what is to be minded."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, grip_holding, document, data.grip)


@router.post("/setups/{int:pk}/stand", response=RigOut)
def stand(request, pk: int, data: StandUpIn):
    """The draft with one piece of grip on a stand or a boom that has room; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    document = services.draft(request.user, pk, data.document)
    made = _analysed(request, questions.stood_up, document, data.grip, data.by)
    piece = next(g for g in made.grip if g.id == data.grip)
    how = "boomed over a stand beside it" if piece.held == "boom" else "on its stand"
    return {"document": made, "gesture": f"{piece.name} {how}", "caution": CAUTION["boom"]}


@router.post("/setups/{int:pk}/board", response=BoardOut)
def board(request, pk: int, data: BoardIn):
    """The draft with one board of several brought in for a ratio, or how near that comes; nothing
    is stored.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    asked = data.target, data.school, data.side, data.at
    found = _analysed(request, questions.boarded, data.document, *asked)
    solved = found.solved
    return {
        "document": solved and solved.setup,
        "off": found.off if math.isfinite(found.off) else None,
        "words": solved.words if solved else found.words,
        "caution": CAUTION["bounce-board"],
        "of": len(TRIES),
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


@router.post("/setups/{int:pk}/schools", response=list[SchoolReading])
def schools(request, pk: int, data: DraftIn):
    """Each way of holding the meter, and where the face sits if its reading is set."""
    document = services.draft(request.user, pk, data.document)
    return _of_picture(request, questions.schools, document, data.say)


@router.post("/setups/{int:pk}/ratio", response=SolvedOut)
def ratio(request, pk: int, data: RatioIn):
    """The draft with the ratio asked for; nothing is stored. 422 says why it cannot be had so, and
    what would bring it.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    asked = data.unit, data.target, data.school, data.means
    solved = _analysed(request, questions.with_ratio, data.document, *asked)
    return {"document": solved.setup, "ratio": solved.ratio, "gesture": solved.words}


@router.post("/setups/{int:pk}/judge", response=questions.Judged)
def judge(request, pk: int, data: DraftIn):
    """The picture by parts, targets, what is fixed, the steps of the order of work, ratios three
    ways.
    """
    document = services.draft(request.user, pk, data.document)
    return _of_picture(request, questions.judged, document, data.say)


@router.post("/setups/{int:pk}/mends", response=list[Proposal])
def mends(request, pk: int, data: ReadingIn):
    """What might mend a reading of the draft, the smallest first; none of it tried yet."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, questions.mends, document, data.reading, data.say)


@router.post("/setups/{int:pk}/moves", response=list[Proposal])
def moves(request, pk: int, data: DraftIn):
    """How the first person of the draft may move in the shot; none of it tried yet."""
    document = services.draft(request.user, pk, data.document)
    services.role_in(request.user, pk, Role.EDITOR)
    return roaming(document)


@router.post("/setups/{int:pk}/trial", response=questions.Trial)
def trial(request, pk: int, data: TrialIn):
    """What a change of the draft does to its picture and readings; nothing is stored."""
    document = services.draft(request.user, pk, data.document)
    services.role_in(request.user, pk, Role.EDITOR)
    services.check(request.user, data.changed)
    # Behind whatever a hand waits for.
    asked = questions.trial, document, data.changed, data.reading, data.say
    return answered(engine().ask(request.user.pk, Rank.PICTURE, *asked))


@router.post("/setups/{int:pk}/ask", response=questions.Asking)
def ask(request, pk: int, data: AskIn):
    """What the units at hand come to for some wishes, with the key at one place of a small grid;
    nothing is stored. 422 where no unit can be the key.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    services.check(request.user, data.document)
    wishes = [Wish(**wish.dict()) for wish in data.wishes]
    asked = questions.asked, data.document, wishes, data.at, data.say
    return answered(engine().ask(request.user.pk, Rank.PICTURE, *asked))


@router.post("/setups/{int:pk}/walk", response=questions.Walked)
def walk(request, pk: int, data: WalkIn):
    """The stop along a walk from the mark, and the area in which it keeps."""
    document = services.draft(request.user, pk, data.document)
    return _analysed(request, questions.walked, document, data.angle, data.distance, data.say)


def _other(request, pk, data, document):
    """The document to compare a draft with, and what it is called."""
    ways = data.other, data.setup, data.revision, data.state
    if sum(way is not None for way in ways) != 1:
        raise Problem(
            422,
            "Name one thing to compare with: a document, a set-up, a revision or a state.",
            "other",
        )
    if data.state is not None:
        other = at_state(document, data.state)
        return other, next(s.name for s in other.states if s.id == data.state)
    if data.other is not None:
        # Only what is stored is worked out for a viewer.
        services.role_in(request.user, pk, Role.EDITOR)
        services.check(request.user, data.other)
        return data.other, data.other.title
    if data.setup is not None:
        setup, _ = services.setup_for(request.user, data.setup)
        return load(setup.current.document), setup.title
    setup, _ = services.setup_for(request.user, pk)
    revision = services.revision_of(setup, data.revision)
    return load(revision.document), f"revision {revision.number}, {revision.gesture}"


@router.post("/setups/{int:pk}/compare", response=ComparedOut)
def compared(request, pk: int, data: AgainstIn):
    """What is different here from the other, the light first."""
    document = services.draft(request.user, pk, data.document)
    other, title = _other(request, pk, data, document)
    return {"title": title, "rows": _analysed(request, compare, document, other, data.say)}


@router.post("/setups/{int:pk}/match", response=MatchedOut)
def matched(request, pk: int, data: AgainstIn):
    """The draft with its dimmers brought to the other's levels; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    document = services.draft(request.user, pk, data.document)
    other, _ = _other(request, pk, data, document)
    found = _analysed(request, questions.matched, document, other, data.say)
    return {"document": found.setup, "left": found.left, "words": found.words}


@router.post("/setups/{int:pk}/restored", response=Restored)
def put_back(request, pk: int, data: RestoreIn):
    """What the draft's last change did to the exposure, and the moves that put it back; nothing is
    stored.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    return _analysed(request, restored, data.document, data.before, data.say)


@router.post("/setups/{int:pk}/level", response=LevelledOut)
def level(request, pk: int, data: LevelIn):
    """The dimmer at which a unit brings a level; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    asked = data.unit, data.lux, data.say
    found = _analysed(request, questions.levelled, data.document, *asked)
    dimmer = next(u.dimmer for u in found.setup.units if u.id == data.unit)
    return {"dimmer": dimmer, "off": found.off, "words": found.words}
