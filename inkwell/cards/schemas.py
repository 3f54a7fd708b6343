"""What the level card is answered with."""

from ninja import Schema


class CardMark(Schema):
    name: str
    lux: float
    footcandles: float
    stop_words: str
    against_words: str


class CardUnit(Schema):
    name: str
    role: str
    head: str
    hung: str
    on: bool
    side: str
    angle: float
    height: float
    distance: float
    distance_ft: float
    over_floor: float
    dimmer: float
    dial: float
    cct: int
    green: float
    white: str
    lux: float
    footcandles: float
    stop: str


class CardGrip(Schema):
    name: str
    kind: str
    material: str
    size: str
    distance: float
    over_floor: float


class CardOut(Schema):
    title: str
    notes: str
    camera: list[str]
    sentence: str
    marks: list[CardMark]
    units: list[CardUnit]
    grip: list[CardGrip]
    sky: str | None
    place: str
