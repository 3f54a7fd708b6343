"""Models of the set-up document, schema version 1.

Lengths are metres, Z is up, angles are degrees. The room is a box with a corner at
the origin: x runs 0..width (west to east), y runs 0..depth (south to north).
"""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

Finite = Annotated[float, Field(allow_inf_nan=False)]
Metres = Annotated[float, Field(allow_inf_nan=False, ge=-200, le=200)]
Size = Annotated[float, Field(allow_inf_nan=False, gt=0, le=200)]
Point = tuple[Metres, Metres, Metres]
Colour = tuple[Annotated[float, Field(ge=0, le=1)], Annotated[float, Field(ge=0, le=1)], Annotated[float, Field(ge=0, le=1)]]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Id = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Surface(Model):
    """A matte surface: its reflectance, and its hue as relative linear BT.709 parts."""

    reflectance: Annotated[float, Field(ge=0, le=0.95)] = 0.5
    colour: Colour = (1.0, 1.0, 1.0)


class Room(Model):
    """A box; each wall is named by the side of the plan it stands on."""

    width: Size = 5.0
    depth: Size = 6.0
    height: Size = 3.0
    floor: Surface = Surface(reflectance=0.2)
    ceiling: Surface = Surface(reflectance=0.7)
    north: Surface = Surface()
    south: Surface = Surface()
    east: Surface = Surface()
    west: Surface = Surface()


class Furniture(Model):
    """A box, upright cylinder or ball standing with its base at `position`."""

    id: Id
    name: Name
    kind: Literal["box", "cylinder", "ball"] = "box"
    position: Point
    size: tuple[Size, Size, Size]
    turn: Finite = 0.0
    surface: Surface = Surface()
    gloss: Annotated[float, Field(ge=0, le=1)] = 0.0


class Figure(Model):
    """A person. `facing` is the way the chest points: 0 north (+y), counter-clockwise."""

    id: Id
    name: Name
    figure: Literal["weathered-man", "young-woman", "middle-aged-woman", "broad-man"] = "weathered-man"
    pose: Literal["standing", "seated"] = "standing"
    position: tuple[Metres, Metres]
    facing: Finite = 0.0
    spectacles: bool = False


class Shutter(Model):
    """Either an angle [deg] at the frame rate, or a time [s]."""

    angle: Annotated[float, Field(gt=0, le=360)] | None = None
    time: Annotated[float, Field(gt=0, le=10)] | None = None

    @model_validator(mode="after")
    def one_of_two(self):
        if (self.angle is None) == (self.time is None):
            raise ValueError("give the shutter as an angle or as a time, not both")
        return self


class Camera(Model):
    id: Id
    name: Name
    position: Point
    aim: Point
    sensor: Literal["full-frame", "super-35", "four-thirds", "one-inch"] = "super-35"
    focal_length: Annotated[float, Field(ge=4, le=1200)] = 50.0
    t_stop: Annotated[float, Field(ge=0.5, le=90)] = 2.8
    iso: Annotated[float, Field(ge=25, le=204800)] = 800
    shutter: Shutter = Shutter(angle=180)
    fps: Annotated[float, Field(ge=1, le=240)] = 25
    nd: Annotated[float, Field(ge=0, le=20)] = 0.0
    white_balance: Annotated[float, Field(ge=2000, le=10000)] = 5600
    tint: Annotated[float, Field(ge=-1, le=1)] = 0.0

    @model_validator(mode="after")
    def looks_somewhere(self):
        if sum((a - b) ** 2 for a, b in zip(self.position, self.aim, strict=True)) < 1e-4:
            raise ValueError("the camera aims at the place where it stands")
        return self


class Unit(Model):
    """A lamp with what is on it. `position` is the centre of its lit face.

    `ies` replaces the head's own distribution by the text of a photometric file.
    """

    id: Id
    name: Name
    role: Literal["key", "fill", "edge", "background", "practical", "eye light", "other"] = "other"
    head: Annotated[str, Field(min_length=1, max_length=60)]
    position: Point
    aim: Point
    roll: Finite = 0.0
    on: bool = True
    dimmer: Annotated[float, Field(ge=0, le=1)] = 1.0
    cct: Annotated[float, Field(ge=2000, le=10000)] = 5600
    green: Annotated[float, Field(ge=-1, le=1)] = 0.0
    ies: Annotated[str, Field(max_length=400_000)] | None = None

    @model_validator(mode="after")
    def aims_somewhere(self):
        if sum((a - b) ** 2 for a, b in zip(self.position, self.aim, strict=True)) < 1e-4:
            raise ValueError("the unit aims at the place where it stands")
        return self


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


class Setup(Model):
    """One set-up. The first camera and the first figure are those of the frame and the meter."""

    schema_version: Literal[1] = 1
    title: Name = "New set-up"
    notes: Annotated[str, Field(max_length=20_000)] = ""
    room: Room = Room()
    furniture: Annotated[tuple[Furniture, ...], Field(max_length=60)] = ()
    figures: Annotated[tuple[Figure, ...], Field(min_length=1, max_length=8)]
    cameras: Annotated[tuple[Camera, ...], Field(min_length=1, max_length=8)]
    units: Annotated[tuple[Unit, ...], Field(max_length=40)] = ()
    marks: Annotated[tuple[Mark, ...], Field(max_length=40)] = ()

    @model_validator(mode="after")
    def ids_differ(self):
        for kind in ("furniture", "figures", "cameras", "units", "marks"):
            ids = [item.id for item in getattr(self, kind)]
            for at, item in enumerate(ids):
                if item in ids[:at]:
                    raise ValueError(f"{kind}[{at}].id: '{item}' is used twice")
        return self
