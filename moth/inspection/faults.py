"""Rigs that cannot work, said in words at the unit."""

import numpy as np

from ..colour import LUMINANCE
from ..photometry import ATTACHMENTS, HEADS
from ..world import anchor, pieces

MISSED = 0.55
"""Share of the light beside a cloth or board that is worth a word."""
DARK_SHARE = 1e-3
"""Of what the lamp could give straight to the face; below it the unit is aimed at nothing."""


def faults_of(setup, unit, world, light, carried, full):
    """Sentences on what is wrong with one unit's rig; empty when nothing is.

    Parameters
    ----------
    setup : moth.document.Setup
    unit : moth.document.Unit
    world : moth.world.World
    light : moth.transport.Light
    carried : list
        Sheets on the way, as :func:`moth.metering.inspect.path_sheets` gives them.
    full : float
        Level on the face at full [lx].

    Returns
    -------
    list of str
    """
    found = []
    head = HEADS[unit.head]
    for item in unit.attachments:
        attachment = ATTACHMENTS[item.key]
        if head.group not in attachment.fits:
            what = {
                "bulb": "a bare bulb",
                "tube": "a tube",
                "panel": "a soft panel",
                "fresnel": "a fresnel",
                "point": "a point head",
            }[head.group]
            found.append(
                f"{attachment.name} cannot be hung on {what}: it has nothing to hold on to, and its"
                " figures do not hold."
            )
    shapes = [
        ATTACHMENTS[a.key].name for a in unit.attachments if ATTACHMENTS[a.key].group == "optic"
    ]
    if len(shapes) > 1:
        found.append(f"{shapes[0]} and {shapes[1]} on one head: only one of them can be the optic.")
    place, aim = np.asarray(unit.position, float), np.asarray(unit.aim, float)
    forward = (aim - place) / np.linalg.norm(aim - place)
    face = anchor(setup)
    on_way = {world.sheets[k].piece for k, _, _ in carried}
    for sheet in world.sheets:
        piece = _grip_of(setup, sheet)
        if piece is None:
            continue
        to = sheet.centre - place
        away = float(np.linalg.norm(to))
        ahead = float(to @ forward)
        if piece.kind == "frame" and ahead < 0 and away < 1.5 and sheet.piece not in on_way:
            found.append(
                f"{piece.name} stands behind this lamp: its light does not reach the cloth."
            )
        if away < head.distance and ahead > 0:
            found.append(
                f"{piece.name} is {away:.1f} m from the lamp; keep at least"
                f" {head.distance:.1f} m. Hot: local codes and licensed people decide."
            )
    if carried:
        found += _misses(setup, world, light, carried)
    for k, _, _ in carried:
        sheet = world.sheets[k]
        piece = _grip_of(setup, sheet)
        if piece is None or sheet.material.transmission > 0.05 or k != carried[-1][0]:
            continue
        side = np.sign(float((place - sheet.centre) @ sheet.normal))
        if side * float((face - sheet.centre) @ sheet.normal) < 0:
            found.append(
                f"{piece.name} is lit on the side turned away from the face: turn it, or the lamp."
            )
    emitter = light.emitters[0]
    straight = float(emitter.face.table.max()) / max(float(((face - place) ** 2).sum()), 0.01)
    if full < DARK_SHARE * straight and not found:
        found.append(
            "Next to nothing of this lamp reaches the face: it is aimed at"
            f" {_met(setup, world, place, forward)}."
        )
    return found


def _grip_of(setup, sheet):
    """The piece of grip a sheet belongs to, None for a window's."""
    return setup.grip[sheet.piece] if sheet.piece < len(setup.grip) else None


def _misses(setup, world, light, carried):
    """A word where most of the beam goes past the first cloth or board."""
    k = carried[0][0]
    sheet, p = world.sheets[k], world.patches
    flux = float(((light.lit @ LUMINANCE) * p.area)[(p.sheet == k)].sum())
    total = float(((light.lit @ LUMINANCE) * p.area).sum())
    piece = _grip_of(setup, sheet)
    if piece and total > 0 and flux < (1 - MISSED) * total and flux > 0:
        return [
            f"{100 * (1 - flux / total):.0f} % of its light goes past {piece.name}: narrow the"
            " beam, come nearer, or take a larger one."
        ]
    return []


def _met(setup, world, place, forward):
    primitive, _, _ = world.rays.first((place + 0.02 * forward)[None], forward[None])
    if primitive[0] < 0:
        return "nothing"
    body = int(world.mesh.body[primitive[0]])
    furniture, figures = len(setup.furniture), len(setup.figures)
    if body == 0:
        normal = world.mesh.flat[primitive[0]]
        axis = int(np.abs(normal).argmax())
        return [
            ("the west wall", "the east wall"),
            ("the south wall", "the north wall"),
            ("the floor", "the ceiling"),
        ][axis][int(normal[axis] < 0)]
    if body <= furniture:
        return f"'{setup.furniture[body - 1].name}'"
    if body <= furniture + figures:
        return f"the body of '{setup.figures[body - 1 - furniture].name}'"
    sheet = world.sheets[body - 1 - furniture - figures]
    return f"'{pieces(setup)[sheet.piece].name}'"
