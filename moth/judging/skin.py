"""Skin and cloth as the picture holds them: where the lit side sits, what shines, what drowns."""

import numpy as np

from ..camera import bt709, stops_over_grey
from ..materials import CLOTHS, FINISHES
from ..wording import percent
from ..world import landmarks
from .limits import limit
from .outline import lab, project_near
from .picture import SIZE
from .results import Drawn, Rank, Reading
from .scene import regions, round_it

DROWNED, MOSTLY = 0.5, 0.75
"""Lightness (CIELAB) over a display's black, its flare counted, under which cloth shows no fold,
and the part of it that must; typical.
"""
_SKIN, _CLOTH = (
    [k for k, f in enumerate(FINISHES) if f.name in names]
    for names in (("skin",), set(CLOTHS.values()))
)


def read_skin(scene, person=0):
    """Lit skin, shine and clothes of a person.

    Parameters
    ----------
    scene : Scene
    person : int
        Index of the figure.

    Returns
    -------
    list of Reading
    """
    mine = scene.body == scene.people[0] + person
    finish = scene.of(scene.view.finish)
    skin = np.flatnonzero(mine & np.isin(finish, _SKIN) & ~scene.lamps)
    cloth = np.flatnonzero(mine & np.isin(finish, _CLOTH) & ~scene.lamps)
    figures = scene.setup.figures
    who = "" if len(figures) == 1 else f"{figures[person].name}, "
    found = []
    face = _of_face(scene, skin, person)
    if len(face) >= 12:
        found += [_lit(scene, face, who, person), *_shine(scene, face, who, person)]
    if len(cloth) >= 40:
        found.append(_clothes(scene, cloth, who, person))
    return found


def _of_face(scene, skin, person):
    """Those pixels of skin that are between crown and chin."""
    marks = landmarks(scene.setup.figures[person])
    crown, chin = (project_near(scene.camera, marks[k])[1] for k in ("crown", "chin"))
    rows = (skin // SIZE[0] + 0.5) / SIZE[1]
    return skin[(rows > min(crown, chin)) & (rows < max(crown, chin))]


def _area(scene, words, pixels):
    """A line round pixels that were read, with what they show on a monitor."""
    shown = float(bt709(np.median(scene.mix[pixels])))
    return Drawn(f"{words}: {percent(shown)}", round_it(pixels))


def _lit(scene, face, who, person):
    """The side that gets most light: the brighter third of the face."""
    signal = scene.mix[face]
    bright = face[signal >= np.quantile(signal, 2 / 3)]
    level = stops_over_grey(float(np.median(scene.mix[bright])))
    shown = float(bt709(np.median(scene.mix[bright])))
    blown = float(scene.clips[face].mean())
    verdict: Rank = "well"
    word = "holds"
    words = f"{scene.say.off(level)} grey, {percent(shown)} on a monitor's curve"
    why = "Skin between those marks keeps its shape and its colour."
    if blown > limit(scene.setup, "skin-blown") / 100:
        word, verdict, why = (
            "blown",
            "fault",
            "Skin that clips is white paint: no curve brings it back.",
        )
        words += f"; {percent(blown)} of the face clips"
    elif level > limit(scene.setup, "skin-over"):
        word, verdict, why = "hot", "mind", "Skin so high loses its colour first, then its shape."
    elif level < limit(scene.setup, "skin-under"):
        word, verdict, why = (
            "dark",
            "mind",
            "A face so low goes to noise, and the eye looks elsewhere.",
        )
    return Reading(
        key=f"skin {person} lit",
        kind="skin",
        name=f"{who}lit side of the face",
        verdict=verdict,
        word=word,
        words=words,
        why=why,
        figure=level,
        path=round_it(face[scene.clips[face]] if word == "blown" else bright),
        drawn=(
            _area(scene, "the brighter third of the face", bright),
            _area(scene, "all of the face that is seen", face),
        ),
    )


def _shine(scene, face, who, person):
    bright = face[scene.mix[face] >= np.quantile(scene.mix[face], 2 / 3)]
    lit = float(np.median(scene.mix[bright]))
    over = np.full(len(scene.mix), -np.inf)
    over[face] = np.log2(np.maximum(scene.mix[face], 1e-6) / max(lit, 1e-6))
    for pixels in regions(over > limit(scene.setup, "shine"), 2)[:1]:
        top = float(over[pixels].max())
        marks = landmarks(scene.setup.figures[person])
        eyes = project_near(scene.camera, (marks["eye_left"] + marks["eye_right"]) / 2)[1]
        chin = project_near(scene.camera, marks["chin"])[1]
        row = float(((pixels // SIZE[0]) + 0.5).mean()) / SIZE[1]
        part = (row - eyes) / max(chin - eyes, 1e-6)
        where = "forehead" if part < -0.05 else "nose or cheek" if part < 0.6 else "lip or chin"
        shares = scene.brought(pixels)
        k = int(shares.argmax())
        yield Reading(
            key=f"skin {person} shine",
            kind="skin",
            name=f"{who}{where}",
            verdict="mind",
            word="shines",
            words=f"{scene.say.off(top)} the lit skin, from {scene.called(scene.picture.ids[k])}",
            why="A hot patch looks wet: powder, a softer source, or the light round to the side.",
            figure=top,
            path=round_it(pixels),
            unit=scene.unit(scene.picture.ids[k]),
            drawn=(
                Drawn(f"up to {scene.say.amount(top)} over", round_it(pixels)),
                _area(scene, "the lit skin", bright),
            ),
        )


def _clothes(scene, cloth, who, person):
    light = lab(scene.picture.colour.reshape(-1, 3)[cloth])[:, 0]
    under = float((light - lab(np.zeros(3))[0] < DROWNED).mean())
    blown = float(scene.clips[cloth].mean())
    level = stops_over_grey(float(np.median(scene.mix[cloth])))
    verdict: Rank = "well"
    word, why = "hold", "Folds that are seen give the body its weight."
    words = f"{scene.say.off(level)} grey in the middle"
    if blown > limit(scene.setup, "cloth-blown") / 100:
        word, verdict = "blown", "fault"
        why = "White cloth without a fold pulls the eye from the face: flag it, or another shirt."
        words += f"; {percent(blown)} of them clip"
    elif under > MOSTLY:
        word, verdict = "drowned", "mind"
        why = "Black cloth without a fold is a hole under the face: an edge, or other clothes."
        words += f"; {percent(under)} of them show no fold"
    return Reading(
        key=f"skin {person} clothes",
        kind="skin",
        name=f"{who}clothes",
        verdict=verdict,
        word=word,
        words=words,
        why=why,
        figure=level,
        path=round_it(cloth) if verdict != "well" else (),
        drawn=(_area(scene, "the clothes that are seen", cloth),),
    )
