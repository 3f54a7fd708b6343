"""The catalogue and the tables that the screen looks things up in."""

from dataclasses import asdict
from functools import lru_cache

import numpy as np

from inkwell.rendering.jobs import COARSE, FULL
from moth.camera import (
    ANGLES,
    FILTERS,
    FPS,
    HIGHEST,
    INDEXES,
    LOWEST,
    MIDDLE_GREY,
    SPEEDS,
    STEPS,
    T_STOPS,
    bt709,
    octave_table,
)
from moth.judging import LIMITS, PARTS, PLANS, PROFILES
from moth.materials import MATERIALS
from moth.photometry import ATTACHMENTS, HEADS, NOISE, PRICE
from moth.place import PIECES
from moth.planning.kit import KINDS
from moth.planning.needs import STANDS
from moth.planning.tasks import TASKS
from moth.solving import CAUTION, MOVES
from moth.sun import PLACES, WEATHERS
from moth.trials import FIGURES
from moth.units import FULL_STOPS, ratio

RATIO_TABLE = (0, 1 / 3, 2 / 3, 1, 4 / 3, 5 / 3, 2, 3, 4, 5, 6)
"""Stops that the table of ratios lists."""


_OF_PIECES = (
    *("key", "name", "group", "size", "base", "round"),
    *("wall", "high", "ceiling", "opens", "surface", "gloss", "through", "outside"),
)


@lru_cache(maxsize=1)
def constants():
    """Everything that does not change while the server runs."""
    heads = []
    for head in HEADS.values():
        d = head.distribution
        plain = (
            "key",
            "name",
            "shape",
            "size",
            "peak",
            "watts",
            "weight",
            "cct",
            "caution",
            "group",
            "colour",
            "battery",
            "leak",
            "distance",
            "source",
            "of_place",
        )
        heads.append(
            {
                **{k: getattr(head, k) for k in plain},
                "beam": d.beam_angle,
                "field": d.field_angle,
                "lumens": d.lumens,
                "noise": NOISE[head.noise],
                "price": PRICE[head.price],
            }
        )
    attachments = [
        {
            "key": a.key,
            "name": a.name,
            "group": a.group,
            "settings": [asdict(s) for s in a.settings],
            "fits": list(a.fits),
            "weight": a.weight,
            "price": PRICE[a.price],
            "caution": a.caution,
            "presets": a.presets,
        }
        for a in ATTACHMENTS.values()
    ]
    shown = (
        "key",
        "name",
        "group",
        "transmission",
        "returned",
        "reflectance",
        "mirror",
        "lobe",
        "lobe_width",
        "straight",
        "forward",
        "forward_width",
        "through",
        "colour",
        "tint",
        "tolerance",
        "source",
    )
    materials = [{k: getattr(m, k) for k in shown} for m in MATERIALS.values()]
    pieces = [
        {
            **{k: getattr(p, k) for k in _OF_PIECES},
            "second": p.second if p.shaded or any(k.second for k in p.parts(p.size)) else None,
            "shaded": p.shaded,
            "lamp": asdict(p.lamp) if p.lamp else None,
        }
        for p in PIECES.values()
    ]
    moves = [{"key": key, "name": name, "caution": CAUTION[key]} for key, name in MOVES.items()]
    return {
        "plans": [{"key": key, "name": p.name, "steps": list(p.steps)} for key, p in PLANS.items()],
        "profiles": [{"key": key, "profile": p} for key, p in PROFILES.items()],
        "parts": PARTS,
        "figures": [asdict(figure) for figure in FIGURES.values()],
        "places": [asdict(place) for place in PLACES],
        "weathers": WEATHERS,
        "gear": KINDS,
        "tasks": [{"key": key, **asdict(kind)} for key, kind in TASKS.items()],
        "stands": [{"key": key, **asdict(stand)} for key, stand in STANDS.items()],
        "limits": [asdict(known) for known in LIMITS.values()],
        "grey": MIDDLE_GREY,
        "ratios": [(s, ratio(s)) for s in RATIO_TABLE],
        "heads": heads,
        "attachments": attachments,
        "materials": materials,
        "pieces": pieces,
        "moves": moves,
        "curve": np.round(255 * octave_table(bt709)).astype(int).tolist(),
        "octaves": (LOWEST, HIGHEST, STEPS),
        "full_stops": list(FULL_STOPS),
        "dials": {
            "stops": T_STOPS,
            "indexes": INDEXES,
            "angles": ANGLES,
            "speeds": SPEEDS,
            "rates": FPS,
            "filters": FILTERS,
        },
        "coarse": COARSE,
        "full": FULL,
    }
