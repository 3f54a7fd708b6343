"""A unit's head, photometric file and attachments, in order, as one lamp."""

import json
from dataclasses import replace

from ..engine.caching import Keyed, cached, content_hash
from ..errors import DocumentError
from .attachments import ATTACHMENTS
from .catalogue import HEADS
from .files import read_photometry
from .shaping import Lamp


def bare_lamp(unit):
    """The head, or the file that replaces its figures, before anything is hung on it.

    Raises
    ------
    DocumentError
        For a head that is not in the catalogue.
    PhotometryError
        For a file that cannot be read.
    """
    if unit.head not in HEADS:
        raise DocumentError(f"There is no head '{unit.head}' in the catalogue.", "head")
    lamp = (
        _from_file(Keyed(content_hash(unit.ies), unit.ies)) if unit.ies else _from_head(unit.head)
    )
    if unit.measured:
        # One reading on the axis scales the whole pattern; the meter stood far enough for the
        # inverse square.
        on_axis = float(lamp.distribution.intensity(0.0))
        wanted = unit.measured.lux * unit.measured.distance**2
        lamp = replace(lamp, distribution=lamp.distribution.scaled(wanted / max(on_axis, 1e-9)))
    return lamp


@cached("heads")
def _from_head(key):
    head = HEADS[key]
    return Lamp(head.distribution, head.shape, head.size)


@cached("photometric files")
def _from_file(keyed):
    photometry = read_photometry(keyed.value)
    width, length, height = photometry.size
    if width < 0 and length < 0 and height < 0:
        # LM-63's word for a sphere: all three below zero.
        return Lamp(photometry.distribution, "bulb", (abs(width),) * 2)
    if width < 0 or length < 0:
        return Lamp(photometry.distribution, "disc", (abs(width) or abs(length),) * 2)
    # The length lies along turn 0/180, which is the unit's right hand, the width along 90/270.
    return Lamp(
        photometry.distribution, "rectangle" if width and length else "point", (length, width)
    )


def stages(unit):
    """The lamp after each attachment.

    Parameters
    ----------
    unit : moth.document.Unit

    Returns
    -------
    list of (str, Lamp)
        First the head itself under its own key.

    Raises
    ------
    DocumentError

    Examples
    --------
    >>> from moth.document import Unit
    >>> u = Unit(id="k", name="Key", head="point-300", position=(0, 0, 2), aim=(0, 1, 2),
    ...     attachments=[{"key": "scrim-double"}])
    >>> [(key, round(lamp.distribution.lumens)) for key, lamp in stages(u)]
    [('point-300', 41637), ('scrim-double', 20819)]
    """
    lamp = bare_lamp(unit)
    found = [(unit.head, lamp)]
    for at, item in enumerate(unit.attachments):
        if item.key not in ATTACHMENTS:
            raise DocumentError(
                f"There is no attachment '{item.key}' in the catalogue.", f"attachments[{at}].key"
            )
        attachment = ATTACHMENTS[item.key]
        known = {s.key for s in attachment.settings}
        for name in item.settings:
            if name not in known:
                raise DocumentError(
                    f"{attachment.name} has no setting '{name}'.",
                    f"attachments[{at}].settings.{name}",
                )
        lamp = attachment.change(lamp, attachment.values(item.settings))
        found.append((item.key, lamp))
    return found


def leak_of(unit):
    """Flux that leaves a unit's head by its vents and back [lm], at full.

    Black wrap takes nine tenths of it (typical: hand-shaped, it leaves the vents open).

    Examples
    --------
    >>> from moth.document import Unit
    >>> u = Unit(id="k", name="K", head="point-300", position=(0, 0, 2), aim=(0, 1, 2), leak=0.01)
    >>> round(leak_of(u)), round(leak_of(u.model_copy(update={"leak": 0})))
    (416, 0)
    """
    wrapped = any(a.key == "wrap" for a in unit.attachments)
    share = unit.leak * (WRAPPED if wrapped else 1.0)
    return share * bare_lamp(unit).distribution.lumens if share else 0.0


WRAPPED = 0.1
"""Of a head's leak that black wrap leaves; typical."""


def lamp_key(unit):
    """What shapes the lamp's light, but no gel: colours cause no render.

    Examples
    --------
    >>> from moth.document import Unit
    >>> u = Unit(id="k", name="Key", head="point-300", position=(0, 0, 2), aim=(0, 1, 2))
    >>> lamp_key(u) == lamp_key(u.model_copy(update={"dimmer": 0.3}))
    True
    """
    shaping = [
        [a.key, a.settings]
        for a in unit.attachments
        if a.key not in ATTACHMENTS or ATTACHMENTS[a.key].group != "gel"
    ]
    measured = unit.measured.model_dump() if unit.measured else None
    # The head's own figures, not its name: a corrected catalogue gives new layers.
    head: object = HEADS.get(unit.head, unit.head)
    return [unit.ies or repr(head), shaping, measured]


def lamp_of(unit):
    """The lamp as it leaves the last attachment; see :func:`stages`."""
    key = json.dumps(lamp_key(unit), sort_keys=True)
    if key not in _LAMPS:
        if len(_LAMPS) > 300:
            _LAMPS.clear()
        _LAMPS[key] = stages(unit)[-1][1]
    return _LAMPS[key]


_LAMPS: dict = {}


def gel_of(unit):
    """Linear BT.709 factors of all gels on a unit; luminance below one is what they cost.

    Examples
    --------
    >>> from moth.document import Unit
    >>> u = Unit(id="k", name="Key", head="point-300", position=(0, 0, 2), aim=(0, 1, 2),
    ...     attachments=[{"key": "gel-nd"}])
    >>> gel_of(u).tolist()
    [0.5, 0.5, 0.5]
    """
    lamp = Lamp(HEADS["bulb"].distribution, "point", (0, 0))
    for item in unit.attachments:
        attachment = ATTACHMENTS.get(item.key)
        if attachment and attachment.group == "gel":
            lamp = attachment.change(lamp, attachment.values(item.settings))
    return lamp.gel
