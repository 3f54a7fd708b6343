"""Where a judged set-up is made: who sits or stands there, before which lens, in which room.

What is put in is told in steps from the face as the lens sees it (aside, ahead, up), so that one
construction serves a person square to the lens in the middle of a room and anybody else.
"""

from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np

from moth.document import Polar, from_polar, load
from moth.world import anchor
from moth.world.figures import FIGURE_NAMES

SENSOR = 24.9
"""Width of the picture on super 35 [mm]."""


@dataclass(frozen=True)
class Stage:
    """A person before a lens, and how the two stand to each other and to the room."""

    person: str
    number: int = 0
    side: int = 1
    """Which side the key comes from: 1 or -1."""
    pose: str = "seated"
    turn: float = 0.0
    """Of the face off the lens, toward camera right [deg]."""
    neck: float = 0.0
    """Share of that turn that the head makes, against the chest: 0 to 1."""
    slant: float = 0.0
    """Of the lens's axis against the wall behind [deg]."""
    quarter: int = 0
    """How many quarters the room is turned: which wall is behind."""
    away: float = 2.1
    """From the lens to the person [m]."""
    framing: float = 1.0
    """How large the person is in the picture; 1 is head and shoulders."""
    lens_up: float = 0.0
    """Of the lens over the eyes [m]."""
    width: float = 6.0
    look: dict = field(default_factory=dict, hash=False)
    """Skin, hair and clothes, in the words of a document."""

    @property
    def called(self):
        """Its name in a table."""
        return self.person if self in CHOSEN else f"{self.number} {self.person} {self.pose}"

    @property
    def squared(self):
        """The same with the face straight toward the lens."""
        return replace(self, turn=0.0, neck=0.0)

    @property
    def focal(self):
        """Focal length [mm]."""
        return 45 * self.framing * self.away / 2.1

    @property
    def height(self):
        """Of the ceiling [m]: a lamp straight above the face has room."""
        return 3.8 if self.pose == "standing" else 3.0

    def half(self, ahead):
        """Half the picture's width at so many metres before the face [m]."""
        return (self.away - ahead) * SENSOR / self.focal / 2

    def bearing(self, ccw=0.0):
        """A way about the person, counter-clockwise from the lens, in the room's degrees."""
        return 90.0 * self.quarter + self.slant + ccw

    def spot(self, aside, ahead, *, behind=3.0, depth=7.0):
        """A place on the floor [m]: aside to camera left, ahead toward the lens."""
        a = np.radians(self.slant)
        x = self.width / 2 + aside * np.cos(a) - ahead * np.sin(a)
        y = behind + aside * np.sin(a) + ahead * np.cos(a)
        w = self.width
        return ((x, y), (depth - y, x), (w - x, depth - y), (y, w - x))[self.quarter]

    def scene(self, units, **more):
        """What makes :meth:`built`, when it is asked for."""
        return partial(self.built, units, **more)

    def built(
        self,
        units,
        *,
        wall=0.3,
        garment=None,
        depth=7.0,
        behind=3.0,
        grip=(),
        furniture=(),
        microphone=None,
        **room,
    ):
        """The set-up: the wall so far behind; units, grip and furniture told from the face.

        What has a place has it as `position`, `aim` (aside, ahead, up from the eyes) [m], a unit
        also as angle off the lens, height [deg] and distance [m].
        """
        across, along = (self.width, depth)[:: -1 if self.quarter % 2 else 1]
        sides = {s: {"reflectance": wall} for s in ("north", "south", "east", "west")}
        person = {
            "id": "s",
            "name": "Keeper",
            "figure": self.person,
            "pose": self.pose,
            "position": self.spot(0, 0, behind=behind, depth=depth),
            "facing": self.bearing(self.turn * (1 - self.neck)),
            "head_turn": self.turn * self.neck,
            **self.look,
        }
        if garment is not None:
            person |= {"garment": {"reflectance": garment}, "jacket": None}
        base = {
            "schema_version": 7,
            "room": {
                "width": across,
                "depth": along,
                "height": self.height,
                "floor": {"reflectance": 0.08},
                "ceiling": {"reflectance": 0.08},
                **sides,
                **room,
            },
            "figures": [person],
            "cameras": [{"id": "a", "name": "A", "position": [0, 0, 1], "aim": [1, 1, 1]}],
        }
        # The face is put where the person would be: who leans has it elsewhere.
        x, y, eyes = (float(v) for v in anchor(load(base)))
        wanted = person["position"]
        person["position"] = (2 * wanted[0] - x, 2 * wanted[1] - y)

        def at(place):
            aside, ahead, up = place
            return [*self.spot(aside, ahead, behind=behind, depth=depth), eyes + up]

        base["cameras"][0] |= {
            "position": at((0, self.away, self.lens_up)),
            "aim": at((0, 0, -0.1)),
            "focal_length": self.focal,
        }
        face = anchor(load(base))

        def placed(thing):
            made = {k: at(v) if k in ("position", "aim") else v for k, v in thing.items()}
            if thing.get("floor"):
                made["position"][2] = 0.0
            return {k: v for k, v in made.items() if k != "floor"}

        base["units"] = [_unit(face, base["cameras"][0]["position"], placed(u)) for u in units]
        base["grip"] = [placed(g) for g in grip]
        base["furniture"] = [{"turn": self.bearing(), **placed(f)} for f in furniture]
        base["microphone"] = at(microphone) if microphone else None
        return load(base)


def _unit(face, lens, told):
    """A unit in polar words about the face, or at its own `position`."""
    told = dict(told)
    if "position" not in told:
        polar = Polar(**{k: told.pop(k, 2.0) for k in ("angle", "height", "distance")})
        told["position"] = [float(v) for v in from_polar(polar, face, lens)]
    name = told["name"]
    return {
        "id": name,
        "role": name if name in ("key", "fill", "edge", "background") else "other",
        "head": "softbox-small",
        "aim": [float(v) for v in face],
        "dimmer": 0.2,
        **told,
    }


CHOSEN = tuple(
    Stage(person, k, -1 if k % 2 else 1)
    for k, person in enumerate(("weathered-man", "young-woman", "middle-aged-woman", "broad-man"))
)
"""Four people seated square to the lens, which is square to the wall behind."""


def drawn(seed):
    """Anybody, in any pose and clothes, turned off a lens that is not square to the wall either.

    Parameters
    ----------
    seed : int
        Of the draw.

    Returns
    -------
    Stage

    Examples
    --------
    >>> drawn(3).person in FIGURE_NAMES, drawn(3) == drawn(3)
    (True, True)
    """
    draw = np.random.default_rng(seed)
    look = {
        "cloth": str(draw.choice(("plain", "cotton", "wool", "silk"))),
        "jacket": {"reflectance": float(draw.uniform(0.03, 0.4))} if draw.random() < 0.3 else None,
        "garment": {"reflectance": float(draw.uniform(0.05, 0.6))},
        "skin": float(draw.uniform(0.06, 0.55)),
        "undertone": float(draw.uniform(-1, 1)),
        "cut": str(draw.choice(("grown", "grown", "moulded", "none"))),
        "head_tilt": float(draw.uniform(-6, 6)),
    }
    return Stage(
        str(draw.choice(FIGURE_NAMES)),
        seed,
        int(draw.choice((-1, 1))),
        str(draw.choice(("seated", "standing", "leaning"))),
        turn=float(draw.uniform(-20, 20)),
        neck=float(draw.uniform(0, 1)),
        slant=float(draw.uniform(-12, 12)),
        quarter=int(draw.integers(4)),
        away=float(draw.uniform(1.5, 3.0)),
        framing=float(draw.uniform(0.8, 1.2)),
        lens_up=float(draw.uniform(-0.12, 0.2)),
        width=float(draw.uniform(6.5, 8.0)),
        look=look,
    )
