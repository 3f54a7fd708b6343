"""What is behind the person: what pulls the eye from the face, what is flat, whose shadow falls
there, what line runs into the head.
"""

from collections import Counter
from dataclasses import replace

import numpy as np
from scipy import ndimage

from ..camera import blur, signal_at, stops_over_grey
from ..colour import LUMINANCE
from ..metering import origin_of
from ..transport import DISTANT, field, light_of, project
from ..wording import percent
from ..world import anchor, landmarks
from .limits import limit
from .outline import lab, project_near
from .picture import SIZE
from .plans import PLANS
from .results import Drawn, Rank, Reading
from .scene import COUNT, part_of_frame, regions, round_it

MUCH = 1.5
"""Stops past where an area of the backdrop pulls from which it does so wherever it is; typical."""
AREA, LARGE = 0.006, 0.03
"""Parts of the frame from which an area counts, and is large; typical."""
CORNER = 0.16
"""Part of the frame's width and height that is its corner."""
DEEP = 1.3
"""Stops by which a shadow on the backdrop is deep; typical."""
LEAST = 0.25
"""Part of the light on some of the backdrop from which a source can throw a shadow there: half a
stop's worth, with some to spare.
"""
BODY = 0.45
"""How far a person reaches about the line from crown to floor, knees and all [m]."""
HARD = 0.012
"""Width of a shadow's edge under which it is hard, as a part of the frame's width; typical."""
STEP = 12.0
"""Difference of colour (CIELAB) across a line from which it is seen at a glance; typical."""
THROUGH = 0.3
"""How near the middle of the head a line must run to run through it, in heads; typical."""
MARGIN, TOUCH = 3.5, 0.12
"""How near to the head a line must come: so many pixels, which the strips beside an edge take off,
and part of a head; typical.
"""
LONG, SHORT = 0.3, 0.12
"""Length that such a line must have beside the head, in heads, and where the frame cuts it off;
typical.
"""


def read_backdrop(scene):
    """What the backdrop does to the picture.

    Parameters
    ----------
    scene : Scene

    Returns
    -------
    list of Reading
    """
    found = [*_level(scene), *_pulls(scene), *_tone(scene), *_corners(scene)]
    return found + [*_shadows(scene), *_lines(scene)]


def _level(scene):
    behind = scene.picture.signal("backdrop")
    if behind is None or scene.picture.signal("skin") is None:
        return
    order = scene.setup.order
    want = PLANS[order.plan] if order else None
    under = scene.skin - stops_over_grey(behind)
    sits = scene.say.off(under, over="under", under="over")
    shares = scene.brought(scene.picture.parts["backdrop"])
    k = int(shares.argmax())
    most = f"{percent(shares[k] / max(shares.sum(), 1e-12))} of it from"
    words = f"{sits} the lit skin; {most} {scene.called(scene.picture.ids[k])}"
    verdict: Rank = "well"
    word = "holds"
    if want and abs(under - want.backdrop) > want.within:
        word, verdict = "too light" if under < want.backdrop else "too dark", "mind"
        words += f"; the plan wants {scene.say.amount(want.backdrop)} under"
    elif under < 0.3:
        word = "as light as the face" if under > -0.3 else "lighter than the face"
        verdict = "mind"
    yield Reading(
        key="backdrop level",
        kind="backdrop",
        name="backdrop about the head",
        verdict=verdict,
        word=word,
        words=words,
        why="The eye goes to the lightest part first: that should be the face."
        if word != "too dark"
        else "What is behind goes under, and the place with it.",
        figure=-under,
        unit=scene.unit(scene.picture.ids[k]),
    )


def _pulls(scene):
    fixed = np.zeros(COUNT, bool)
    for pixels in scene.picture.things.values():
        fixed[pixels] = True
    pulls = limit(scene.setup, "backdrop-pulls")
    # The open sky in a window is a light, and behind the person too.
    behind = scene.backdrop | (scene.window & ~scene.anyone)
    bright = behind & (scene.over_skin >= pulls) & ~fixed
    known: Counter = Counter()
    for pixels in regions(bright, int(AREA * COUNT))[:3]:
        over = float(np.median(scene.over_skin[pixels]))
        much = over >= pulls + MUCH and len(pixels) >= LARGE * COUNT
        shares = scene.brought(pixels)
        k = int(shares.argmax())
        source = scene.picture.ids[k]
        unit, dimmer = scene.unit(source), None
        words = f"{scene.say.off(over)} the lit skin over {part_of_frame(pixels)}"
        words += f", from {scene.called(source)}"
        role = next((u.role for u in scene.setup.units if u.id == unit), None)
        if unit and role not in ("key", "fill"):
            dimmer = _dimmed(scene, pixels, k, pulls)
            words += f": at {percent(dimmer)} it pulls no more" if dimmer else ""
        yield Reading(
            # By its light, so that the other keeps its key when one is mended.
            key=f"backdrop pulls {source}{known[source] or ''}",
            kind="backdrop",
            name=scene.name_at(pixels).strip("'"),
            verdict="fault" if much else "mind",
            word="pulls the eye",
            words=words,
            why="The eye goes to the lightest part first: that should be the face.",
            figure=over,
            path=round_it(pixels),
            unit=unit,
            dimmer=dimmer,
        )
        known[source] += 1


def _dimmed(scene, pixels, k, pulls):
    """The dimmer of a source with which some pixels pull the eye no more: looked at in the sum of
    the layers before it is told. None where its dimmer alone cannot.
    """
    top = pixels[scene.mix[pixels] >= np.quantile(scene.mix[pixels], 0.9)]
    for over in (pulls - 0.1, pulls - 0.4, pulls - 0.8):
        dimmer = scene.dimmer_for(top, k, over)
        if dimmer is None:
            return None
        change = (dimmer - scene.picture.state[k]) * scene.picture.full[k].ravel()
        left = scene.mix + change
        skin = left[scene.picture.parts["skin"]].mean()
        if (left[pixels] >= 2**pulls * skin).sum() < int(AREA * COUNT):
            return dimmer
    return None


def _tone(scene):
    plain = scene.backdrop & ~scene.window & (scene.body >= 0)
    if plain.sum() < 0.2 * COUNT or scene.window.sum() > AREA * COUNT:
        return
    levels = np.log2(np.maximum(scene.mix[plain], 1e-6))
    spread = float(np.quantile(levels, 0.9) - np.quantile(levels, 0.1))
    if levels.max() < np.log2(signal_at(-5.0)):
        return
    even = spread < limit(scene.setup, "backdrop-even")
    yield Reading(
        key="backdrop tone",
        kind="backdrop",
        name="tones of the backdrop",
        verdict="mind" if even else "well",
        word="flat" if even else "falls off",
        words=f"{scene.say.amount(spread)} from its darker to its lighter parts",
        why="One flat tone gives the picture no depth."
        if even
        else "Light that falls off gives the picture depth.",
        figure=spread,
    )


def _corners(scene):
    order, dead = scene.setup.order, limit(scene.setup, "backdrop-dead")
    if order and order.plan == "high-contrast":
        return
    rows, columns = np.divmod(np.arange(COUNT), SIZE[0])
    x, y = (columns + 0.5) / SIZE[0], (rows + 0.5) / SIZE[1]
    seen = scene.backdrop & (scene.body >= 0)
    whole = float(np.median(scene.mix[seen])) if seen.any() else 0.0
    if stops_over_grey(whole) < dead + 1:
        return
    for high, low in (("upper", y < CORNER), ("lower", y > 1 - CORNER)):
        for side, wide in (("left", x < CORNER), ("right", x > 1 - CORNER)):
            pixels = np.flatnonzero(low & wide)
            pixels = pixels[seen[pixels]]
            if len(pixels) < 0.7 * CORNER**2 * COUNT:
                continue
            level = stops_over_grey(float(np.quantile(scene.mix[pixels], 0.75)))
            if level < dead:
                yield Reading(
                    key=f"backdrop corner {high} {side}",
                    kind="backdrop",
                    name=f"{high} corner, camera {side}",
                    verdict="mind",
                    word="dead",
                    words=f"{scene.say.off(level)} grey: nothing is seen there",
                    why="A corner that holds nothing makes the place end there.",
                    figure=level,
                    path=round_it(pixels),
                )


def _shadows(scene):
    """Shadows that people throw on what is behind them, in the frame."""
    every = np.zeros((SIZE[1], SIZE[0]), bool)
    every[::2, ::2] = True
    at = np.flatnonzero(every.ravel() & scene.backdrop & ~scene.window & (scene.first >= 0))
    points = scene.first[at]
    places, normals = scene.view.points[points], scene.view.normals[points]
    albedo = scene.view.albedo[points] * scene.view.left[points, None]
    full = scene.picture.full.reshape(len(scene.picture.ids), -1)
    for source, state in zip(scene.ready.found, scene.ready.state, strict=True):
        # What brings little anywhere about leaves no shadow where it is kept off.
        share = full[scene.picture.ids.index(source.id), at] * state
        if not len(at) or np.quantile(share / np.maximum(scene.mix[at], 1e-9), 0.98) < LEAST:
            continue
        gain = albedo / np.pi * scene.gains[source.id] * state
        lost = _kept_off(scene, light_of(scene.world, source), places, normals)
        taken = np.maximum((lost * gain) @ LUMINANCE, 0)
        # What is as dark with it as without is no shadow to the eye.
        seen = scene.mix[at] + taken > signal_at(limit(scene.setup, "backdrop-dead"))
        depth = np.zeros(COUNT)
        depth[at] = np.where(seen, np.log2(1 + taken / np.maximum(scene.mix[at], 1e-6)), 0)
        depth = depth.reshape(SIZE[1], SIZE[0])[::2, ::2].repeat(2, 0).repeat(2, 1).ravel()
        areas = regions(
            (depth > limit(scene.setup, "backdrop-shadow")) & scene.backdrop, int(AREA * COUNT)
        )
        if areas:
            yield _shadow(scene, source, depth, areas[0])


def _kept_off(scene, light, places, normals):
    """What people keep off places (n, 3) [lx]: of each lamp, cloth and board, where one stands
    about on the way.
    """
    lost = np.zeros((len(places), 3))
    people = [
        (np.array([*figure.position, 0.0]), landmarks(figure)["crown"])
        for figure in scene.setup.figures
    ]
    for part, centre, half in _shining(scene.world, light):
        near = np.any([_passes(places, centre, *axis) < BODY + half for axis in people], axis=0)
        near &= ((centre - places) * normals).sum(1) > -half
        if near.any():
            own = [
                field(world, part, places[near], normals[near], room=False)
                for world in (scene.bare, scene.world)
            ]
            lost[near] += own[0] - own[1]
    return lost


def _shining(world, light):
    """Lamps, cloths and boards of a light one by one: (light, middle, half its size) [m]. What
    comes from walls is too wide to throw a shadow.
    """
    for emitter in light.emitters:
        centre, half = emitter.centre, emitter.half
        if emitter.kind == DISTANT:
            half = min(half, 0.5)
        yield replace(light, emitters=(emitter,), glows=()), centre, half
    for glow in light.glows:
        if glow.sheet >= 0:
            yield replace(light, emitters=(), glows=(glow,)), *glow.extent


def _passes(places, centre, low, high):
    """How near the lines from places to a centre come to a line of a person's height [m]."""
    found = np.full(len(places), np.inf)
    for t in np.linspace(0, 1, 9):
        at = low + t * (high - low)
        way = centre - places
        along = ((at - places) * way).sum(1) / np.maximum((way**2).sum(1), 1e-9)
        near = places + np.clip(along, 0, 1)[:, None] * way
        found = np.minimum(found, np.linalg.norm(near - at, axis=1))
    return found


def _shadow(scene, source, depth, pixels):
    image = depth.reshape(SIZE[1], SIZE[0])
    deep = float(np.quantile(depth[pixels], 0.75))
    slope = np.hypot(*np.gradient(image)).ravel()
    near = pixels[depth[pixels] < 0.9 * deep]
    # How far the shadow takes from lit to dark where it does so most quickly.
    edge = deep / max(float(np.quantile(slope[near], 0.9)) if len(near) else deep, 1e-6) / SIZE[0]
    hard, name = edge < HARD, scene.called(source.id)
    much = hard and deep >= DEEP
    return Reading(
        key=f"backdrop shadow {source.id}",
        kind="backdrop",
        name=f"shadow on {scene.name_at(pixels)}",
        verdict="fault" if much else "mind",
        word="hard shadow" if hard else "soft shadow",
        words=f"{scene.say.amount(deep)} darker over {part_of_frame(pixels)}, from {name}",
        why="A shadow on the wall is a second figure: raise the light, go off the wall, or soften.",
        figure=deep,
        path=round_it(pixels),
        unit=scene.unit(source.id),
        drawn=_thrown(scene, source, pixels, hard, edge),
    )


def _thrown(scene, source, pixels, hard, edge):
    """The way of the light from over somebody's head into the shadow, and how sharp its edge is."""
    points = scene.view.points[scene.first[pixels[scene.first[pixels] >= 0]]]
    origin = origin_of(scene.setup, scene.world, source).place
    middle = points.mean(0)
    heads = [landmarks(figure)["crown"] for figure in scene.setup.figures]
    head = heads[int(np.argmin([_passes(middle[None], origin, h, h)[0] for h in heads]))]
    sharp = f"its edge takes {100 * edge:.1f} % of the picture's width"
    return (
        Drawn(
            f"light from {scene.called(source.id)} past the head",
            tuple(project_near(scene.camera, p) for p in (head, middle)),
        ),
        Drawn(f"{sharp}: {'hard' if hard else 'soft'}", round_it(pixels)),
    )


def _lines(scene):
    """Lines of the backdrop that run into the head."""
    camera, (width, height) = scene.camera, SIZE
    marks = landmarks(scene.setup.figures[0])
    if project(camera, [anchor(scene.setup)])[0] is None:
        return
    crown, chin = (np.array(project_near(camera, marks[k])) for k in ("crown", "chin"))
    middle = (crown + chin) / 2 * SIZE
    tall = abs(chin[1] - crown[1]) * height
    if tall < 8:
        return
    shown = lab(scene.picture.colour)
    rows, columns = np.divmod(np.arange(COUNT), width)
    offset = np.stack([columns + 0.5, rows + 0.5], 1) - middle
    away = np.linalg.norm(offset, axis=1)
    plain = (scene.backdrop & (scene.first >= 0)).reshape(height, width)
    near = plain.ravel() & (away < 1.35 * tall) & (offset[:, 1] < 0.45 * tall)
    # Where the strip two pixels to either side is backdrop too, and not the head's own edge.
    step, along = _steps(shown, plain)
    lens = np.asarray(camera.position, float)
    focus = camera.focus or float(np.linalg.norm(anchor(scene.setup) - lens))
    focus = max(focus, 2 * camera.focal_length / 1000)
    reach = np.maximum(scene.of(scene.view.reach, 1.0), 0.1)
    soft = blur(camera, focus, reach) * width
    # A line that the lens draws wide loses as much of its step over two pixels.
    step = step.ravel() / np.maximum(soft / 2, 1.0)
    strong = np.flatnonzero(near & (step > STEP))
    if not len(strong):
        return
    ways = along.reshape(-1, 2)[strong]
    off = np.abs(ways[:, 0] * offset[strong, 1] - ways[:, 1] * offset[strong, 0])
    into = strong[off < THROUGH * tall]
    mask = np.zeros(COUNT, bool)
    mask[into] = True
    # One that ends short of the head is a thing beside it.
    own = (scene.body == scene.people[0]).reshape(height, width)
    gap = ndimage.distance_transform_edt(~own).ravel() if own.any() else np.full(COUNT, np.inf)
    told = set()
    for pixels in regions(mask, 4)[:4]:
        if gap[pixels].min() > MARGIN + TOUCH * tall:
            continue
        span = np.ptp(offset[pixels] @ along.reshape(-1, 2)[pixels[len(pixels) // 2]])
        turn = np.abs(along.reshape(-1, 2)[pixels]).mean(0)
        # A post has two sides, and is one thing behind the head.
        upright = bool(turn[1] > turn[0])
        at_rim = ((rows[pixels] < 2) | (columns[pixels] < 2) | (columns[pixels] > width - 3)).any()
        if span < (SHORT if at_rim else LONG) * tall or upright in told:
            continue
        told.add(upright)
        much = float(np.quantile(step[pixels], 0.75))
        yield Reading(
            key=f"backdrop line {'upright' if upright else 'level'}",
            kind="backdrop",
            name="a line behind the head",
            verdict="mind",
            word="grows out of the head" if upright else "runs through the head",
            words=f"a step of {much:.0f} in tone {'up from' if upright else 'beside'} the head, on"
            f" {scene.name_at(pixels)}",
            why="A line into the head ties it to the wall: a step aside parts them.",
            figure=much,
            path=round_it(pixels),
        )


def _steps(shown, plain):
    """How much the tone changes across each pixel, two to either side, and the way along the line
    there (height, width, 2); 0 where a side is not backdrop.
    """
    height, width = plain.shape
    change = {}
    for axis in (0, 1):
        one, other = (np.roll(shown, k, axis) for k in (2, -2))
        known = plain & np.roll(plain, 2, axis) & np.roll(plain, -2, axis)
        change[axis] = np.where(known[..., None], one - other, 0)
    total = np.sqrt(sum((c**2).sum(-1) for c in change.values()))
    light = np.stack([change[1][..., 0], change[0][..., 0]], -1)
    length = np.maximum(np.linalg.norm(light, axis=-1, keepdims=True), 1e-9)
    across = light / length
    return total, np.stack([-across[..., 1], across[..., 0]], -1)
