"""What stands in the frame, or is mirrored there, and should not; and the lamps that should."""

import numpy as np

from ..colour import LUMINANCE
from ..inspection.names import body_name
from ..metering import origin_of
from ..transport import build_emitter, project, sheen_of
from ..transport import sources as sources_of
from ..transport.housings import head_distance
from ..wording import percent
from ..world import landmarks, pieces
from ..world.gathering import GLOSS
from .limits import limit
from .outline import project_near, ray
from .picture import SHEER, SIZE
from .results import Drawn, Rank, Reading
from .scene import COUNT, part_of_frame, regions, round_it

SEEN = 3
"""Pixels from which something in the frame is told."""
BEHIND = 0.5
"""Part of the frame from which a cloth or board is what the picture is before, or seen through."""
SHOWS, SHOWS_MUCH = -1.5, 1.5
"""Stops over the lit skin from which a mirrored lamp is told, and takes the eye; typical."""
LARGE = 0.003
"""Part of the frame from which a shine is in the way; a smaller one is a glint. Typical."""
GLOSSY = 0.5
"""Part of the light of a shiny place that must be its shine."""


def read_frame(scene):
    """Faces that something stands before; heads, stands, cloths and boards in the picture, and
    units in its mirrors and shines.

    Parameters
    ----------
    scene : Scene

    Returns
    -------
    list of Reading
    """
    return [
        *_hidden(scene),
        *_units(scene),
        *_grip(scene),
        *_grip_stands(scene),
        *_shines(scene),
        *_practicals(scene),
    ]


FACE = ("eye_left", "eye_right", "cheek_left", "cheek_right", "chin", "crown")
"""Places of a head that are looked for: one that is turned away shows its other side there."""
HIDDEN = 0.5
"""Part of them from which a face is told as hidden; typical."""


def _hidden(scene):
    """Faces in the frame that something stands before."""
    world, lens = scene.world, np.asarray(scene.camera.position, float)
    sheer = np.array([s.material.straight >= SHEER for s in world.sheets] + [False])
    for k, figure in enumerate(scene.setup.figures):
        marks = landmarks(figure)
        places = [(marks[n], at) for n in FACE if (at := project(scene.camera, [marks[n]])[0])]
        if not places:
            continue
        ways = np.array([place for place, _ in places]) - lens
        far = np.linalg.norm(ways, axis=1)
        ways /= far[:, None]
        triangle, _, reach = world.rays.first(np.tile(lens, (len(ways), 1)), ways)
        before = (triangle >= 0) & (reach < far) & ~sheer[world.mesh.sheet[triangle]]
        before &= world.mesh.body[triangle] != scene.people[0] + k
        if before.sum() < HIDDEN * len(places):
            continue
        names = [body_name(scene.setup, world, int(t)) for t in triangle[before]]
        yield Reading(
            key=f"frame hidden {figure.id}",
            kind="frame",
            name=f"{figure.name}'s face" if len(scene.setup.figures) > 1 else "face",
            verdict="mind" if k else "fault",
            word="hidden",
            words=f"behind {max(names, key=names.count)}",
            why="What stands before a face takes the picture: move it, or the camera.",
            figure=float(before.mean()),
            path=tuple(at for (_, at), hides in zip(places, before, strict=True) if hides),
        )


def _mirrors(scene, pixels):
    """Sheet that each pixel's ray meets first, where that is a mirror; -1."""
    rows, columns = np.divmod(pixels, scene.view.size[0])
    ways = scene.view.rays(columns + 0.5, rows + 0.5)
    triangle, _, _ = scene.world.rays.first(np.tile(scene.view.origin, (len(ways), 1)), ways)
    sheet = np.where(triangle >= 0, scene.world.mesh.sheet[triangle], -1)
    mirror = np.array([s.material.mirror > 0.5 for s in scene.world.sheets] or [False])
    return np.where((sheet >= 0) & mirror[sheet], sheet, -1)


def _units(scene):
    for unit in scene.setup.units:
        pixels = scene.picture.lamps.get(unit.id)
        if pixels is None:
            continue
        pixels = np.unique(pixels)
        mirror = _mirrors(scene, pixels)
        straight, mirrored = pixels[mirror < 0], pixels[mirror >= 0]
        if unit.role != "practical" and len(straight) > SEEN:
            rows, columns = np.divmod(straight, scene.view.size[0])
            ways = scene.view.rays(columns + 0.5, rows + 0.5)
            head = np.isfinite(head_distance(scene.view.origin, ways, build_emitter(unit))).any()
            yield Reading(
                key=f"frame unit {unit.id}",
                kind="frame",
                name=unit.name,
                verdict="fault",
                word="in the picture" if head else "its stand is in the picture",
                words=part_of_frame(straight),
                why="A lamp that nobody in the story put there breaks it: move it, or tighten.",
                figure=len(straight) / COUNT,
                path=round_it(straight),
                unit=unit.id,
            )
        if len(mirrored) > SEEN:
            sheet = scene.world.sheets[int(np.bincount(mirror[mirror >= 0]).argmax())]
            yield Reading(
                key=f"mirrored {unit.id} {sheet.piece}",
                kind="mirrored",
                name=f"{unit.name} in '{pieces(scene.setup)[sheet.piece].name}'",
                verdict="fault" if unit.role != "practical" else "well",
                word="seen in the mirror",
                words=part_of_frame(mirrored),
                why="A mirror shows what stands where angle in is angle out: turn it a little.",
                figure=len(mirrored) / COUNT,
                path=round_it(mirrored),
                unit=unit.id,
                drawn=tuple(_by_mirror(scene, sheet, mirrored, unit)),
            )


def _by_mirror(scene, sheet, pixels, unit):
    """From where it is seen in a mirror to where it stands, as the frame shows both."""
    rows, columns = np.divmod(pixels, SIZE[0])
    seen = (float((columns.mean() + 0.5) / SIZE[0]), float((rows.mean() + 0.5) / SIZE[1]))
    off = float(np.abs((np.asarray(unit.position) - sheet.centre) @ sheet.normal))
    lens = float(np.abs((np.asarray(scene.camera.position) - sheet.centre) @ sheet.normal))
    words = f"{unit.name} itself, {off:.1f} m before the glass; the lens {lens:.1f} m before it"
    # What stands behind the lens is nowhere in the frame.
    ahead = np.asarray(scene.camera.aim, float) - scene.camera.position
    if (np.asarray(unit.position) - scene.camera.position) @ ahead > 0:
        yield Drawn(words, (seen, project_near(scene.camera, np.asarray(unit.position))))
    else:
        yield Drawn(words + ", behind it", (seen,))


def _grip(scene):
    """Cloths, boards and flags that the lens sees."""
    for piece, grip in enumerate(scene.setup.grip):
        own = [k for k, s in enumerate(scene.world.sheets) if s.piece == piece]
        through = scene.view.past > 0
        pixels = np.unique(scene.view.pixel[~through & np.isin(_sheet_of(scene), own)])
        pixels = pixels[~scene.anyone[pixels]]
        part = len(pixels) / COUNT
        # A mirror's picture is what it shows; a cloth over most of the frame is there for it.
        if len(pixels) <= SEEN or part > BEHIND or grip.kind == "mirror":
            continue
        yield Reading(
            key=f"frame grip {grip.id}",
            kind="frame",
            name=grip.name,
            verdict="fault",
            word="in the picture",
            words=part_of_frame(pixels),
            why="An edge that nobody in the story put there breaks it: move it, or tighten.",
            figure=part,
            path=round_it(pixels),
        )


def _grip_stands(scene):
    """Stands and arms of the grip that the lens sees."""
    first = 1 + len(scene.setup.furniture) + len(scene.setup.figures)
    view = scene.view
    bare = (view.body >= first) & (_sheet_of(scene) < 0) & (view.past == 0)
    for piece, grip in enumerate(scene.setup.grip):
        own = [first + k for k, s in enumerate(scene.world.sheets) if s.piece == piece]
        pixels = np.unique(view.pixel[bare & np.isin(view.body, own)])
        pixels = pixels[~scene.anyone[pixels]]
        if len(pixels) <= SEEN:
            continue
        yield Reading(
            key=f"frame stand {grip.id}",
            kind="frame",
            name=grip.name,
            verdict="fault",
            word="its stand is in the picture",
            words=part_of_frame(pixels),
            why="What holds a sheet belongs out of the picture: turn it to its other side, boom it,"
            " or tighten.",
            figure=len(pixels) / COUNT,
            path=round_it(pixels),
        )


def _sheet_of(scene):
    patch = scene.view.patch
    return np.where(patch >= 0, scene.world.patches.sheet[patch], -1)


def _shines(scene):
    """Units that shiny furniture mirrors to the lens."""
    some = np.flatnonzero(scene.view.finish == GLOSS)
    if not len(some):
        return
    pixel = scene.view.pixel[some]
    weight = scene.view.weight[some]
    for source in sources_of(scene.setup):
        k = scene.picture.ids.index(source.id)
        share = scene.picture.state[k] * scene.picture.full[k].ravel()[pixel]
        if not (share > GLOSSY * scene.mix[pixel]).any():
            continue
        sheen = sheen_of(scene.world, scene.view, source, some) * scene.gains[source.id]
        sent = scene.picture.state[k] * np.bincount(pixel, weight * (sheen @ LUMINANCE), COUNT)
        bright = (sent > GLOSSY * scene.mix) & (scene.over_skin > SHOWS)
        for pixels in regions(bright & ~scene.lamps, SEEN + 1)[:2]:
            over = float(np.quantile(scene.over_skin[pixels], 0.8))
            name = scene.name_at(pixels)
            yield Reading(
                key=f"mirrored {source.id} {name}",
                kind="mirrored",
                name=f"{scene.called(source.id)} in {name}",
                verdict="fault" if over >= SHOWS_MUCH and len(pixels) >= LARGE * COUNT else "mind",
                word="mirrored",
                words=f"{scene.say.off(over)} the lit skin",
                why="A shine takes the eye and shows where the lamp is: turn the thing, or the lamp"
                " out of its angle.",
                figure=over,
                path=round_it(pixels),
                unit=scene.unit(source.id),
                drawn=tuple(_angles(scene, some[np.isin(pixel, pixels)], source)),
            )


def _angles(scene, points, source):
    """From a shine toward what it mirrors, and straight off its surface: points of the view."""
    place, normal = (rows[points].mean(0) for rows in (scene.view.points, scene.view.normals))
    normal = normal / np.linalg.norm(normal)
    origin = origin_of(scene.setup, scene.world, source).place

    def off(target):
        way = np.asarray(target, float) - place
        return float(np.degrees(np.arccos(np.clip(way @ normal / np.linalg.norm(way), -1, 1))))

    come, go = off(origin), off(scene.camera.position)
    called = scene.called(source.id)
    yield ray(scene.camera, f"toward {called}, {come:.0f}° off the surface", place, origin, LONG)
    words = f"straight off the surface; the lens is {go:.0f}° off it"
    yield ray(scene.camera, words, place, place + normal, LONG / 2)


LONG = 0.3
"""Of a line toward what is mirrored [m]."""


def _practicals(scene):
    """Lamps of the place that are in the picture: lit, and how they sit."""
    for unit in scene.setup.units:
        pixels = scene.picture.lamps.get(unit.id)
        if unit.role != "practical" or pixels is None:
            continue
        pixels = np.unique(pixels)
        if any(f.thing == unit.id for f in scene.setup.fixed):
            continue
        k = scene.picture.ids.index(unit.id)
        bright = pixels[scene.mix[pixels] >= np.quantile(scene.mix[pixels], 0.8)]
        over = float(np.median(scene.over_skin[bright]))
        verdict: Rank = "well"
        word, why = "glows", "A lamp that glows tells where the light comes from."
        words, dimmer = f"its brightest part {scene.say.off(over)} the lit skin", None
        if scene.picture.state[k] <= 0:
            word, verdict, words = "not lit", "mind", "it is in the picture and off"
            why = "A lamp in the picture that is dark asks why: switch it on, or take it out."
        elif over > (glares := limit(scene.setup, "lamp-glares")):
            word, verdict = "glares", "mind"
            why = "A lamp far over the face is a hole in the picture: dim it."
            dimmer = scene.dimmer_for(bright, k, glares - 0.5)
            words += f": at {percent(dimmer)} it glows" if dimmer else ": it wants a weaker bulb"
        elif over < limit(scene.setup, "lamp-dull"):
            word, verdict = "dull", "mind"
            why = "A lit lamp that is darker than the face looks painted."
        yield Reading(
            key=f"lamps {unit.id}",
            kind="lamps",
            name=unit.name,
            verdict=verdict,
            word=word,
            words=words,
            why=why,
            figure=over,
            path=round_it(pixels),
            unit=unit.id,
            dimmer=dimmer,
            drawn=(Drawn("its brightest fifth, which is read", round_it(bright)),),
        )
