"""Models of the set-up document.

Lengths are metres, Z is up, angles are degrees. The room is a box with a corner at
the origin: x runs 0..width (west to east), y runs 0..depth (south to north).
"""

import math
from typing import Annotated, Literal

import shapely
from pydantic import Field, field_validator, model_validator

from .basics import (
    KEPT,
    Bearer,
    Colour,
    Finite,
    Id,
    Kept,
    Metres,
    Model,
    Name,
    Point,
    Share,
    Size,
    Span,
    Thing,
    Thrown,
)
from .day import Site, Sky
from .power import BATTERY, Circuit, Feed
from .upgrades import NEWEST, upgrade


class Surface(Model):
    """A matte surface: its reflectance, and its hue as relative linear BT.709 parts."""

    reflectance: Annotated[float, Field(ge=0, le=0.95)] = 0.5
    colour: Colour = (1.0, 1.0, 1.0)


class Corner(Model):
    """A corner of the outline, and the wall from it to the next."""

    at: tuple[Metres, Metres]
    surface: Surface | None = None
    """Of that wall; None for what the walls on that side of the plan are of."""


SHORTEST = 0.05
"""Least length of a wall [m]."""


class Gap(Model):
    """A part of the ceiling that is left out: a rectangle of the plan, from its south-west corner
    to its north-east one [m].
    """

    low: tuple[Metres, Metres]
    high: tuple[Metres, Metres]

    @model_validator(mode="after")
    def is_open(self):
        if any(b - a < SHORTEST for a, b in zip(self.low, self.high, strict=True)):
            raise ValueError("a gap in the ceiling goes from its south-west to its north-east")
        return self


class Room(Model):
    """A box, each wall named by the side of the plan it stands on; or an outline of any shape,
    whose walls go by number. Outdoors only the ground is left, under the sky.
    """

    width: Size = 5.0
    """West to east, where there is no outline [m]; depth likewise, south to north."""
    depth: Size = 6.0
    height: Size = 3.0
    """Of the ceiling, where it is lowest [m]."""
    outline: Annotated[tuple[Corner, ...], Field(min_length=3, max_length=40)] | None = None
    """Corners counter-clockwise as seen from above; None for the four of the box."""
    rise: Annotated[float, Field(allow_inf_nan=False, ge=0, le=20)] = 0.0
    """By which the ceiling is higher at one side of the room [m]."""
    rises_to: Literal["north", "south", "east", "west"] = "north"
    gaps: Annotated[tuple[Gap, ...], Field(max_length=4)] = ()
    """Where the ceiling is missing, as on a stage: over it is a dark loft, in which lamps hang."""
    storey: Annotated[float, Field(allow_inf_nan=False, ge=0, le=60)] = 0.0
    """Height of the floor over the ground outside [m]."""
    outdoors: bool = False
    land: Surface = Surface(reflectance=0.2)
    """What lies about the house and is seen through its windows; typical of grass and paving. Of
    water what comes back from under its surface. Outdoors all the ground is of the floor's.
    """
    water: Annotated[float, Field(allow_inf_nan=False, ge=0, le=20)] | None = None
    """Wind over the water that lies about the house [m/s]; None for dry land."""
    floor: Surface = Surface(reflectance=0.2)
    ceiling: Surface = Surface(reflectance=0.7)
    north: Surface = Surface()
    south: Surface = Surface()
    east: Surface = Surface()
    west: Surface = Surface()

    @field_validator("outline")
    @classmethod
    def is_a_shape(cls, corners):
        if corners is None:
            return corners
        ring = shapely.LinearRing([corner.at for corner in corners])
        if not ring.is_simple:
            raise ValueError("the outline crosses itself")
        if not ring.is_ccw:
            raise ValueError("the outline's corners go clockwise: turn their order round")
        if shapely.Polygon(ring).area < 0.5:
            raise ValueError("the outline leaves less than half a square metre of floor")
        ends = [*corners[1:], corners[0]]
        for at, (one, other) in enumerate(zip(corners, ends, strict=True)):
            if math.dist(one.at, other.at) < SHORTEST:
                raise ValueError(f"wall {at + 1} of the outline is shorter than 5 cm")
        return corners


FurnitureKind = Literal[
    "box",
    "cylinder",
    "ball",
    "table",
    "round-table",
    "low-table",
    "desk",
    "counter",
    "lectern",
    "chair",
    "armchair",
    "sofa",
    "stool",
    "bench",
    "bed",
    "shelf",
    "cupboard",
    "sideboard",
    "wall-cupboard",
    "drawers",
    "chest",
    "crate",
    "books",
    "plant",
    "picture",
    "monitor",
    "curtain",
    "rug",
    "door",
    "partition",
    "doorway",
    "passage",
    "radiator",
    "fireplace",
    "piano",
    "pillar",
    "folding-screen",
    "steps",
    "table-lamp",
    "floor-lamp",
    "pendant",
    "work-lamp",
    "ceiling-tube",
    "downlight",
    "strip-light",
    "wall-mirror",
    "screen",
    "lit-monitor",
    "house",
    "tree",
    "hedge",
    "yard-wall",
    "shed",
    "scan",
]
"""Keys of moth.place.PIECES, and "scan" for what was brought in from a file."""


class Furniture(Model):
    """A piece standing with the middle of its base at `position`; its front is to the north at
    `turn` 0, counter-clockwise from above [deg].
    """

    id: Id
    name: Name
    kind: FurnitureKind = "box"
    position: Point
    size: tuple[Size, Size, Size]
    """Width, depth and height of the whole [m]."""
    turn: Finite = 0.0
    surface: Surface = Surface()
    second: Surface | None = None
    """What its cushions, doors, leaves, shade or the like are of; None for the same as the rest."""
    through: Annotated[float, Field(ge=0, le=0.9)] = 0.0
    """Share of the light on its shade that goes through and leaves diffuse."""
    gloss: Annotated[float, Field(ge=0, le=1)] = 0.0
    open: Annotated[float, Field(allow_inf_nan=False, ge=0, le=175)] = 0.0
    """How far its leaf is open, for kinds that have one [deg]."""
    locked: bool = False
    """Whether a hand on the plan passes it by."""
    scan: Annotated[str, Field(pattern="^[0-9a-f]{32}$")] | None = None
    """Digest of the scan or model that a piece of the kind "scan" is made from. It has colours of
    its own; with a `second` surface it is painted over with that.
    """

    @model_validator(mode="after")
    def scans_are_scans(self):
        if (self.kind == "scan") != (self.scan is not None):
            raise ValueError("a piece of the kind 'scan' names a scan, and no other does")
        return self

    @model_validator(mode="after")
    def shade_makes_no_light(self):
        if self.through + (self.second or self.surface).reflectance > 0.98:
            raise ValueError("the shade sends back and lets through more light than falls on it")
        return self


class Figure(Model):
    """A person. `facing` is the way the chest points: 0 north (+y), counter-clockwise."""

    id: Id
    name: Name
    figure: Literal[
        "weathered-man",
        "young-woman",
        "middle-aged-woman",
        "broad-man",
        "old-woman",
        "young-man",
        "middle-aged-man",
        "girl",
    ] = "weathered-man"
    pose: Literal["standing", "leaning", "seated"] = "standing"
    """Leaning is sitting with the forearms on a table of 0.74 m."""
    position: tuple[Metres, Metres]
    facing: Finite = 0.0
    spectacles: bool = False
    head_turn: Annotated[float, Field(allow_inf_nan=False, ge=-60, le=60)] = 0.0
    """Of the head against the chest, to its own left [deg]."""
    head_tilt: Annotated[float, Field(allow_inf_nan=False, ge=-30, le=30)] = 0.0
    """Up from level [deg]."""
    skin: Annotated[float, Field(ge=0.04, le=0.65)] | None = None
    """Mean reflectance; None for that of the built person."""
    undertone: Annotated[float, Field(ge=-1, le=1)] = 0.0
    """Of that skin: -1 rosy, 1 golden."""
    cut: Literal["grown", "moulded", "none"] = "grown"
    """How the hair is: as wisps that light passes and plays on; as one smooth body, which is
    quicker; or none.
    """
    beard: Literal["none", "short", "full"] = "none"
    hat: Literal["none", "knit", "brim"] = "none"
    hat_cloth: Surface | None = None
    """Of the hat; None for dark grey."""
    hair: Surface | None = None
    garment: Surface | None = None
    """Mean of the hair with brows and beard, and of what is worn; None for the built person's."""
    cloth: Literal["plain", "cotton", "wool", "silk"] = "plain"
    """Of what is worn: smooth and even, a shirt in folds, knitted with a nap, or shining."""
    jacket: Surface | None = None
    """Of an open jacket over it; None for none."""
    eyeline: Point | None = None
    """What the eyes rest on: the interviewer, the horizon; None for the lens."""

    @model_validator(mode="before")
    @classmethod
    def wore_satin(cls, data):
        """Of documents before version 7: what shone was silk, all else plain."""
        if not isinstance(data, dict) or "satin" not in data:
            return data
        rest = {k: v for k, v in data.items() if k != "satin"}
        return {**rest, "cloth": "silk"} if data["satin"] is True else rest


class Shutter(Model):
    """Either an angle [deg] at the frame rate, or a time [s]."""

    angle: Annotated[float, Field(gt=0, le=360)] | None = None
    time: Annotated[float, Field(gt=0, le=10)] | None = None

    @model_validator(mode="after")
    def one_of_two(self):
        if (self.angle is None) == (self.time is None):
            raise ValueError("give the shutter as an angle or as a time, not both")
        return self


class LogCurve(Model):
    """A log curve by three facts: code value of middle grey, stops up to code 1, stops down to code
    0.
    """

    grey: Annotated[float, Field(ge=0.1, le=0.8)] = 0.4
    over: Annotated[float, Field(ge=1, le=12)] = 6.0
    under: Annotated[float, Field(ge=2, le=16)] = 8.0


class Camera(Model):
    """`iso` is the exposure index; `focus` is the distance from the lens that is sharp [m], None
    for the first figure's eyes. `subject` is the figure whose picture it is, who comes first while
    it is looked through; None for whoever does.
    """

    id: Id
    name: Name
    position: Point
    aim: Point
    roll: Annotated[float, Field(allow_inf_nan=False, ge=-180, le=180)] = 0.0
    """About the lens's axis; above 0 its right hand is raised [deg]."""
    follow: Literal["", "turning", "going"] = ""
    """What it does when whose picture it is moves: stays, turns along, or goes along."""
    sensor: Literal["full-frame", "super-35", "four-thirds", "one-inch", "custom"] = "super-35"
    sensor_width: Annotated[float, Field(ge=3, le=80)] = 24.9
    """Of a custom sensor's 16:9 picture [mm]."""
    focal_length: Annotated[float, Field(ge=4, le=1200)] = 50.0
    t_stop: Annotated[float, Field(ge=0.5, le=90)] = 2.8
    filter_loss: Annotated[float, Field(ge=0, le=10)] = 0.0
    """Of filters besides ND [stops]."""
    iso: Annotated[float, Field(ge=25, le=204800)] = 800
    native_iso: Annotated[float, Field(ge=25, le=25600)] = 800
    shutter: Shutter = Shutter(angle=180)
    fps: Annotated[float, Field(ge=1, le=240)] = 25
    nd: Annotated[float, Field(ge=0, le=20)] = 0.0
    filters: Annotated[tuple[Annotated[float, Field(gt=0, le=20)], ...], Field(max_length=20)] = ()
    """ND filters at hand [stops]; none listed are all that are made."""
    white_balance: Annotated[float, Field(ge=2000, le=10000)] = 5600
    tint: Annotated[float, Field(ge=-1, le=1)] = 0.0
    curve: Literal["bt709", "hlg", "acescct", "linear", "log"] = "bt709"
    log: LogCurve = LogCurve()
    focus: Annotated[float, Field(ge=0.1, le=200)] | None = None
    subject: Id | None = None
    guides: Annotated[
        tuple[Literal["thirds", "eyeline", "headroom"], ...], Field(max_length=3)
    ] = ()

    @model_validator(mode="after")
    def looks_somewhere(self):
        if sum((a - b) ** 2 for a, b in zip(self.position, self.aim, strict=True)) < 1e-4:
            raise ValueError("the camera aims at the place where it stands")
        return self


class Attachment(Model):
    """Something hung on a head; `settings` are those of the catalogue's entry
    (moth.photometry.ATTACHMENTS).
    """

    key: Annotated[str, Field(min_length=1, max_length=60)]
    settings: Annotated[dict[str, Finite], Field(max_length=12)] = {}


class Measured(Model):
    """What a meter said of this unit on its axis at full: replaces the catalogue's output."""

    lux: Annotated[float, Field(gt=0, le=1e7)]
    distance: Annotated[float, Field(gt=0.05, le=100)]


class Unit(Model):
    """A lamp with what is on it. `position` is the centre of its lit face.

    `ies` replaces the head's own distribution by the text of a photometric file, IES or EULUMDAT;
    attachments are hung on in order, lamp first.
    """

    id: Id
    name: Name
    role: Literal["key", "fill", "edge", "background", "practical", "eye light", "other"] = "other"
    head: Annotated[str, Field(min_length=1, max_length=60)]
    position: Point
    aim: Point
    aims_at: Kept = ""
    """What the hand keeps the aim on, which goes along with it."""
    roll: Finite = 0.0
    on: bool = True
    dimmer: Annotated[float, Field(ge=0, le=1)] = 1.0
    cct: Annotated[float, Field(ge=2000, le=10000)] = 5600
    green: Annotated[float, Field(ge=-1, le=1)] = 0.0
    hue: Annotated[float, Field(ge=0, le=360)] = 0.0
    saturation: Annotated[float, Field(ge=0, le=1)] = 0.0
    attachments: Annotated[tuple[Attachment, ...], Field(max_length=8)] = ()
    leak: Annotated[float, Field(allow_inf_nan=False, ge=0, le=0.05)] = 0.0
    """Share of the head's own flux that leaves by its vents, seams and back; 0 for not reckoned."""
    held: Literal["stand", "boom", "arm", "hung", "built-in"] = "stand"
    """On a stand, by an arm over a stand beside it, by an arm of another unit's stand, from above,
    or taped, clamped or laid down.
    """
    foot: tuple[Metres, Metres] | None = None
    """Where the stand of a boom or an arm stands; None for straight below, as others do."""
    bearer: Bearer = ""
    """Id of the unit whose stand its arm is on."""
    switch: Annotated[str, Field(max_length=40)] = ""
    """Name of the switch in the place that it hangs on; empty for a unit that was brought."""
    piece: Annotated[str, Field(max_length=40)] = ""
    """Id of the furniture that it is part of and goes with; empty for one that stands alone."""
    feed: Feed = ""
    """Id of the circuit it draws from, or "@battery"; empty where that is not said."""
    run: Annotated[float, Field(allow_inf_nan=False, ge=0, le=500)] | None = None
    """Of its cable from the socket [m]; None for the way along the floor and up."""
    charge: Annotated[float, Field(ge=0, le=1)] = 1.0
    """Of its battery when it is switched on."""
    ies: Annotated[str, Field(max_length=400_000)] | None = None
    measured: Measured | None = None

    @model_validator(mode="after")
    def aims_somewhere(self):
        if sum((a - b) ** 2 for a, b in zip(self.position, self.aim, strict=True)) < 1e-4:
            raise ValueError("the unit aims at the place where it stands")
        return self


class Material(Model):
    """A cloth or board of the user's own, in the shares of moth.materials.Material."""

    id: Id
    name: Name
    reflectance: Share = 0.0
    mirror: Share = 0.0
    lobe: Share = 0.0
    lobe_width: Annotated[float, Field(ge=2, le=90)] = 20.0
    straight: Share = 0.0
    forward: Share = 0.0
    forward_width: Annotated[float, Field(ge=2, le=90)] = 20.0
    through: Share = 0.0
    tint: Annotated[float, Field(ge=-200, le=200)] = 0.0
    colour: Colour = (1.0, 1.0, 1.0)

    @model_validator(mode="after")
    def keeps_energy(self):
        if (
            self.reflectance + self.mirror + self.lobe + self.straight + self.forward + self.through
            > 0.98
        ):
            raise ValueError(
                "the shares sent back and let through add up to more than 98 %: no cloth gives back"
                " all its light"
            )
        return self


class Grip(Model):
    """A frame, board, mirror, flag or the like: a rectangle about `position`, its front turned to
    `aim`.

    `material` is a key of moth.materials.MATERIALS or the id of one of the set-up's own.
    """

    id: Id
    name: Name
    kind: Literal[
        "frame", "board", "v-flat", "mirror", "reflector", "flag", "blinds", "branches"
    ] = "board"
    material: Annotated[str, Field(min_length=1, max_length=60)]
    position: Point
    aim: Point
    aims_at: Kept = ""
    """See :class:`Unit`."""
    throws: Thrown = ""
    """The unit whose light it throws at the first figure's face, or the sun: the hand keeps its
    front half way between the two, whichever of them is carried and however the sun goes round.
    """
    roll: Finite = 0.0
    size: tuple[Span, Span]
    held: Literal["", "stand", "boom", "arm", "hung", "built-in", "hand"] = ""
    """On stands at its sides, by an arm over a stand, by an arm of a unit's stand, from above,
    taped, clamped or laid down, in a hand; empty where nobody has said, and nothing is drawn.
    """
    foot: tuple[Metres, Metres] | None = None
    """Where the stand of a boom or an arm stands; of a stand the side that it is on, None for its
    right.
    """
    bearer: Bearer = ""
    """See :class:`Unit`."""
    slat_pitch: Annotated[float, Field(ge=0.02, le=0.5)] = 0.1
    slat_angle: Annotated[float, Field(ge=-80, le=80)] = 30.0

    @model_validator(mode="after")
    def faces_somewhere(self):
        if sum((a - b) ** 2 for a, b in zip(self.position, self.aim, strict=True)) < 1e-4:
            raise ValueError("the front is turned to the place where it stands")
        return self


class Opening(Model):
    """A window in a wall or the ceiling, lit by the sky, the sun and what stands before it outside.

    `along` is the middle, from the west or south corner, or from the corner that a numbered wall
    begins at; `up` its height above the floor (from the south wall in the ceiling).
    """

    id: Id
    name: Name
    wall: Literal["north", "south", "east", "west", "ceiling"] | Annotated[int, Field(ge=0, lt=40)]
    """Side of a plain room, or number of an outline's wall, counted from 0."""
    along: Metres
    up: Metres
    size: tuple[Span, Span]
    cover: Annotated[str, Field(max_length=60)] = "clear"
    blinds: bool = False
    slat_pitch: Annotated[float, Field(ge=0.02, le=0.5)] = 0.1
    slat_angle: Annotated[float, Field(ge=-80, le=80)] = 30.0


class Mark(Model):
    """A place where the meter is held, besides the standard ones."""

    id: Id
    name: Name
    position: Point
    direction: tuple[Finite, Finite, Finite]
    receiver: Literal["dome", "disc"] = "dome"

    @field_validator("direction")
    @classmethod
    def points_somewhere(cls, value):
        if sum(c * c for c in value) < 1e-8:
            raise ValueError("the meter points nowhere: the direction has no length")
        return value


class Fixed(Model):
    """Something whose light cannot be dimmed: the id of a unit, "window:" and the id of an opening,
    "@sun" or "@backdrop"; `stops` is where it should sit about middle grey.
    """

    thing: Thing
    stops: Annotated[float, Field(ge=-8, le=10)] = 2.0


class Target(Model):
    """Where a part of the picture should sit, in stops about middle grey, and how far off it may
    be; or what it should not go over, or under.
    """

    what: Literal["skin", "shadow", "highlights", "floor", "backdrop", "edge"]
    stops: Annotated[float, Field(ge=-12, le=12)] | None = None
    percent: Annotated[float, Field(ge=0, le=109)] | None = None
    """Instead of stops: of the signal, on whatever curve the camera has."""
    within: Annotated[float, Field(ge=0.05, le=4)] = 0.34
    """[stops]"""
    how: Literal["about", "at most", "at least"] = "about"

    @model_validator(mode="after")
    def one_of_two(self):
        if (self.stops is None) == (self.percent is None):
            raise ValueError("give the target in stops or in percent, not both")
        return self


class Profile(Model):
    """Targets by name."""

    name: Name
    targets: Annotated[tuple[Target, ...], Field(max_length=6)] = ()

    @model_validator(mode="after")
    def once_each(self):
        if len({t.what for t in self.targets}) < len(self.targets):
            raise ValueError("one target for each part of the picture")
        return self


class Step(Model):
    """A step of the order of work and what became of it."""

    key: Literal[
        "frame",
        "keep",
        "fixed",
        "key",
        "fill",
        "separation",
        "background",
        "eye-light",
        "control",
        "instruments",
        "note",
    ]
    state: Literal["open", "done", "skipped"] = "open"
    reason: Annotated[str, Field(max_length=200)] = ""

    @model_validator(mode="after")
    def says_why(self):
        if self.state == "skipped" and not self.reason.strip():
            raise ValueError("a step that is skipped needs a reason")
        return self


class Order(Model):
    """The order of work of a set-up, its steps as they are to be taken."""

    plan: Literal["natural", "three-point", "high-contrast"] = "three-point"
    steps: Annotated[tuple[Step, ...], Field(min_length=1, max_length=11)]

    @model_validator(mode="after")
    def once_each(self):
        if len({s.key for s in self.steps}) < len(self.steps):
            raise ValueError("each step comes once")
        return self


class Meant(Model):
    """Something the picture does that is meant so: it is told no more as a fault."""

    reading: Annotated[str, Field(min_length=1, max_length=80)]
    """Key of what is read, as moth.judging.Reading has it."""
    reason: Annotated[str, Field(min_length=1, max_length=200)]


class Reason(Model):
    """A light outside the frame that the picture is to tell of: where it is, and its white."""

    id: Id
    name: Name
    kind: Literal["window", "lamp", "sun", "fire"] = "window"
    bearing: Annotated[float, Field(ge=-360, le=360)] = 0.0
    """From the first person's face, from north clockwise as on a map [deg]."""
    cct: Annotated[float, Field(ge=1500, le=12000)] = 5600.0


LimitKey = Literal[
    "outline-gone",
    "outline-faint",
    "outline-hot",
    "skin-over",
    "skin-under",
    "skin-blown",
    "shine",
    "cloth-blown",
    "sockets",
    "glare",
    "backdrop-pulls",
    "backdrop-even",
    "backdrop-dead",
    "backdrop-shadow",
    "lamp-dull",
    "lamp-glares",
    "whites-off",
    "whites-apart",
    "sound",
]
"""Keys of moth.judging.LIMITS."""


class OwnLimit(Model):
    """From where something is told in this set-up, instead of what is typical."""

    key: LimitKey
    at: Annotated[float, Field(allow_inf_nan=False, ge=-20, le=300)]


class UnitLevel(Model):
    """What of a unit a state of the place keeps; see :class:`Unit`."""

    id: Id
    on: bool = True
    dimmer: Annotated[float, Field(ge=0, le=1)] = 1.0
    cct: Annotated[float, Field(ge=2000, le=10000)] = 5600
    green: Annotated[float, Field(ge=-1, le=1)] = 0.0
    hue: Annotated[float, Field(ge=0, le=360)] = 0.0
    saturation: Annotated[float, Field(ge=0, le=1)] = 0.0


class State(Model):
    """The place at another time: the same geometry under its own sky, with its own levels and
    whites. What it keeps is taken into the set-up when it is turned to.
    """

    id: Id
    name: Name
    sky: Sky = Sky()
    units: Annotated[tuple[UnitLevel, ...], Field(max_length=40)] = ()


class Setup(Model):
    """One set-up. The first camera and the first figure are those of the frame and the meter."""

    schema_version: Literal[7] = 7
    title: Name = "New set-up"
    notes: Annotated[str, Field(max_length=20_000)] = ""
    room: Room = Room()
    furniture: Annotated[tuple[Furniture, ...], Field(max_length=60)] = ()
    figures: Annotated[tuple[Figure, ...], Field(min_length=1, max_length=8)]
    cameras: Annotated[tuple[Camera, ...], Field(min_length=1, max_length=8)]
    units: Annotated[tuple[Unit, ...], Field(max_length=40)] = ()
    grip: Annotated[tuple[Grip, ...], Field(max_length=24)] = ()
    openings: Annotated[tuple[Opening, ...], Field(max_length=16)] = ()
    sky: Sky = Sky()
    site: Site | None = None
    haze: Annotated[float, Field(ge=0, le=0.5)] = 0.0
    """Scattering coefficient of the air [1/m]."""
    bodies_shade: bool = False
    """Whether heads of lamps and what holds them stand in the light: moving one then changes the
    light of all.
    """
    materials: Annotated[tuple[Material, ...], Field(max_length=24)] = ()
    marks: Annotated[tuple[Mark, ...], Field(max_length=40)] = ()
    fixed: Annotated[tuple[Fixed, ...], Field(max_length=12)] = ()
    profile: Profile | None = None
    order: Order | None = None
    meant: Annotated[tuple[Meant, ...], Field(max_length=60)] = ()
    limits: Annotated[tuple[OwnLimit, ...], Field(max_length=24)] = ()
    reasons: Annotated[tuple[Reason, ...], Field(max_length=8)] = ()
    microphone: Point | None = None
    circuits: Annotated[tuple[Circuit, ...], Field(max_length=16)] = ()
    states: Annotated[tuple[State, ...], Field(max_length=8)] = ()
    state: Id | None = None
    """Which of the states stands; what it kept may be older than what stands."""

    @model_validator(mode="before")
    @classmethod
    def newest(cls, data):
        # A version that nobody knows is left for its own field to refuse.
        known = isinstance(data, dict) and data.get("schema_version") in range(1, NEWEST)
        return upgrade(data) if known else data

    @model_validator(mode="after")
    def ids_differ(self):
        for kind in (
            "furniture",
            "figures",
            "cameras",
            "units",
            "grip",
            "openings",
            "materials",
            "marks",
            "states",
            "reasons",
            "circuits",
        ):
            ids = [item.id for item in getattr(self, kind)]
            for at, item in enumerate(ids):
                if item in ids[:at]:
                    raise ValueError(f"{kind}[{at}].id: '{item}' is used twice")
        if len({m.reading for m in self.meant}) < len(self.meant):
            raise ValueError("meant: the same reading is set aside twice")
        if len({limit.key for limit in self.limits}) < len(self.limits):
            raise ValueError("limits: the same limit is set twice")
        if len({f.thing for f in self.fixed}) < len(self.fixed):
            raise ValueError("fixed: the same thing is marked twice")
        known = {"", BATTERY, *(c.id for c in self.circuits)}
        for at, unit in enumerate(self.units):
            if unit.feed not in known:
                raise ValueError(f"units[{at}].feed: there is no circuit '{unit.feed}'")
        pieces = {"", *(f.id for f in self.furniture)}
        for at, unit in enumerate(self.units):
            if unit.piece not in pieces:
                raise ValueError(f"units[{at}].piece: there is no furniture '{unit.piece}'")
        if self.state is not None and self.state not in [s.id for s in self.states]:
            raise ValueError(f"state: there is no state '{self.state}'")
        return self

    @model_validator(mode="after")
    def arms_are_on_stands(self):
        units = {u.id: u for u in self.units}
        held: dict[str, tuple[Unit | Grip, ...]] = {"units": self.units, "grip": self.grip}
        for kind, where in held.items():
            for at, item in enumerate(where):
                if item.held != "arm":
                    continue
                bearer = units.get(item.bearer)
                if bearer is None or bearer.held not in ("stand", "boom"):
                    raise ValueError(
                        f"{kind}[{at}].bearer: an arm wants a unit with a stand to be on, and"
                        f" '{item.bearer}' is none"
                    )
                if item.foot is None:
                    raise ValueError(f"{kind}[{at}].foot: an arm wants the place of its stand")
        return self

    @model_validator(mode="after")
    def aims_are_at_things(self):
        known = {
            f"{kind}:{item.id}" for kind, where in KEPT.items() for item in getattr(self, where)
        }
        for kind, where in (("unit", self.units), ("grip", self.grip)):
            for item in where:
                if item.aims_at and item.aims_at not in known:
                    raise ValueError(f"'{item.id}' aims at '{item.aims_at}', which is not there")
                if item.aims_at == f"{kind}:{item.id}":
                    raise ValueError(f"'{item.id}' aims at itself")
        units = {f"unit:{u.id}" for u in self.units}
        for item in self.grip:
            if item.throws.startswith("unit:") and item.throws not in units:
                raise ValueError(f"'{item.id}' throws '{item.throws}', which is no unit here")
        return self
