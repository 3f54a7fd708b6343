"""Ready arrangements for a trial: a face, a wall, a table, a doorway; one key each."""

from typing import Any

from ..document import load
from ..units import METRES_PER_FOOT as FOOT

STAGES = {
    "face": "one face, one key at 45°/45°",
    "wall": "a wall of 12 × 12 ft, the lamp 6 ft off it",
    "table": "somebody at a table, the lamp hung over it",
    "doorway": "somebody in the next room, seen through its doorway",
}
_GREY = {"reflectance": 0.18}
_SIDES = ("floor", "ceiling", "north", "south", "east", "west")


def stage(key, figure="weathered-man"):
    """A ready arrangement.

    Parameters
    ----------
    key : str
        Of :data:`STAGES`.
    figure : str
        Who is there; see moth.document.Figure.

    Returns
    -------
    moth.document.Setup
        Its lamp to be tried is "key".

    Examples
    --------
    >>> stage("face").units[0].role
    'key'
    >>> [round(v / FOOT, 1) for v in stage("wall").units[0].position]
    [9.8, 6.0, 6.0]
    """
    given = _ARRANGED[key]
    subject = {"id": "subject", "name": "Subject", "figure": figure, **given["subject"]}
    camera = {"id": "a", "name": "A camera", "t_stop": 4, **given["camera"]}
    key_light = {"id": "key", "name": "Key", "role": "key", "head": "point-300", **given["key"]}
    return load(
        {
            "schema_version": 6,
            "title": STAGES[key],
            "room": {**given["room"], **dict.fromkeys(_SIDES, _GREY)},
            "furniture": given.get("furniture", []),
            "figures": [subject],
            "cameras": [camera],
            "units": [key_light],
        }
    )


# Eyes of a seated person stand 1.24 m high, of a standing one 1.66 m.
_ARRANGED: dict[str, dict[str, Any]] = {
    "face": {
        "room": {"width": 6, "depth": 7, "height": 3.4},
        "subject": {"pose": "seated", "position": [3.0, 3.25]},
        "camera": {"position": [3.0, 5.9, 1.25], "aim": [3.0, 3.25, 1.2], "focal_length": 74},
        "key": {"position": [4.0, 4.67, 2.65], "aim": [3.0, 3.35, 1.24]},
    },
    "wall": {
        # The wall is the south one; whoever sits before it leaves its middle free.
        "room": {"width": 6, "depth": 7, "height": 3.8},
        "subject": {"pose": "seated", "position": [3.8, 0.4]},
        # Beside the lamp, before its front: the whole of the wall, and no stand.
        "camera": {"position": [3.0, 1.7, 1.83], "aim": [3.0, 0.0, 1.75], "focal_length": 13},
        "key": {"position": [3.0, 6 * FOOT, 6 * FOOT], "aim": [3.0, 0.0, 6 * FOOT]},
    },
    "table": {
        "room": {"width": 6, "depth": 7, "height": 3.0},
        "furniture": [
            {
                "id": "table",
                "name": "Table",
                "kind": "table",
                "position": [3.0, 3.6, 0.0],
                "size": [1.6, 0.9, 0.75],
                "surface": {"reflectance": 0.26, "colour": [1.0, 0.7, 0.46]},
            }
        ],
        "subject": {"pose": "seated", "position": [3.0, 2.95]},
        "camera": {"position": [3.0, 6.3, 1.35], "aim": [3.0, 2.95, 1.08], "focal_length": 66},
        "key": {"position": [3.0, 3.75, 2.2], "aim": [3.0, 3.55, 0.75], "held": "hung"},
    },
    "doorway": {
        # Two rooms: the camera is in the dark one, the lamp beside the door in the other.
        "room": {"width": 5, "depth": 8, "height": 2.7},
        "furniture": [
            {
                "id": key,
                "name": name,
                "kind": kind,
                "position": [x, 4.0, 0.0],
                "size": [wide, 0.12, 2.7],
                "surface": _GREY,
            }
            for key, name, kind, x, wide in (
                ("left", "Wall to the left", "partition", 3.75, 2.5),
                ("door", "Doorway", "passage", 2.0, 1.0),
                ("right", "Wall to the right", "partition", 0.75, 1.5),
            )
        ],
        "subject": {"pose": "standing", "position": [2.0, 2.5]},
        "camera": {"position": [2.0, 7.4, 1.55], "aim": [2.0, 2.5, 1.4], "focal_length": 72},
        "key": {"position": [3.4, 3.6, 2.3], "aim": [2.0, 2.6, 1.6]},
    },
}
