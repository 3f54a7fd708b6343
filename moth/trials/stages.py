"""Ready arrangements for a trial: one face, one key; a face before a wall."""

from ..document import load

STAGES = {"face": "one face, one key at 45°/45°", "wall": "a face 6 ft from the lamp, by a wall"}
_GREY = {"reflectance": 0.18}
_SIDES = ("floor", "ceiling", "north", "south", "east", "west")


def stage(key, figure="weathered-man"):
    """A ready arrangement.

    Parameters
    ----------
    key : str
        Of :data:`STAGES`.
    figure : str
        Who sits there; see moth.document.Figure.

    Returns
    -------
    moth.document.Setup
        Its lamp to be tried is "key".

    Examples
    --------
    >>> stage("face").units[0].role
    'key'
    """
    wall = key == "wall"
    # Eyes of a seated person stand 1.24 m high; the lamp two metres off them, or six feet.
    lamp = [3.0, 5.2 - 0.001, 1.24] if wall else [4.0, 4.67, 2.65]
    return load(
        {
            "schema_version": 6,
            "title": STAGES[key],
            "room": {"width": 6, "depth": 7, "height": 3.4, **dict.fromkeys(_SIDES, _GREY)},
            "figures": [
                {
                    "id": "subject",
                    "name": "Subject",
                    "figure": figure,
                    "pose": "seated",
                    "position": [3.0, 0.9 if wall else 3.25],
                }
            ],
            "cameras": [
                {
                    "id": "a",
                    "name": "A camera",
                    "position": [3.0, 3.7 if wall else 5.9, 1.25],
                    "aim": [3.0, 0.9 if wall else 3.25, 1.18],
                    "focal_length": 85 if wall else 95,
                    "t_stop": 4,
                }
            ],
            "units": [
                {
                    "id": "key",
                    "name": "Key",
                    "role": "key",
                    "head": "point-300",
                    "position": [3.9, 2.45, 1.6] if wall else lamp,
                    "aim": [3.0, 1.0 if wall else 3.35, 1.24],
                }
            ],
        }
    )
