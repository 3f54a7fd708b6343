"""One cell run: its unit brought to the level, the frame, the figures, what the picture does."""

import io
import os
import time
from dataclasses import asdict, dataclass

import numpy as np
from PIL import Image

from ..camera import bt709, exr_bytes, key_level, mixed
from ..document import load
from ..engine.cancelling import until
from ..engine.cores import on_one_core
from ..judging import picture_of, read_picture
from ..place.scans import shelve
from ..transport import render_layer, sources, view_of
from ..world import build_world
from .figures import figures_of
from .plan import one_level
from .walls import wall_map

SIZE = (320, 180)
"""Of a cell's frame."""


@dataclass(frozen=True)
class Cell:
    """What came of a cell."""

    figures: dict[str, float]
    words: dict[str, str]
    """The pattern of the key, and the worst that is read."""
    png: bytes
    exr: bytes
    """The frame as linear signal, half floats."""
    wall: list | None
    """Stops on the wall behind the face, foot by foot: see :func:`moth.trials.walls.wall_map`."""
    seconds: float


def run_cell(setup, unit_id, level="same", size=SIZE):
    """Run one cell.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    level : str
        "same" brings the unit to what the camera's stop asks for, "full" leaves it at full.
    size : (int, int)
        Of the frame [px].

    Returns
    -------
    Cell

    Examples
    --------
    >>> from moth.trials import stage
    >>> cell = run_cell(stage("face"), "key", size=(64, 36))
    >>> cell.words["pattern"], cell.png[:4]
    ('closed triangle', b'\\x89PNG')
    """
    start = time.perf_counter()
    full = _at_full(setup, unit_id)
    made, gain = full, 1.0
    if level == "same":
        made, gain = one_level(setup, unit_id, key_level(setup.cameras[0]))
    readings = read_picture(made, picture_of(made))
    figures = figures_of(made, unit_id, full, gain, readings)
    png, exr = _frame(made, size)
    return Cell(
        figures=figures,
        words=_words(readings),
        png=png,
        exr=exr,
        wall=wall_map(made, unit_id),
        seconds=time.perf_counter() - start,
    )


def _at_full(setup, unit_id):
    units = tuple(
        u.model_copy(update={"dimmer": 1.0, "on": True}) if u.id == unit_id else u
        for u in setup.units
    )
    return setup.model_copy(update={"units": units})


def _words(readings):
    pattern = next((r.word for r in readings if r.key == "face 0 pattern"), "")
    worst = next((r for r in readings if r.verdict != "well" and not r.meant), None)
    return {"pattern": pattern, "worst": f"{worst.name}: {worst.word}" if worst else ""}


def _frame(setup, size):
    """A set-up's frame as PNG for a display and as linear EXR."""
    world, camera = build_world(setup), setup.cameras[0]
    view = view_of(world, setup, camera, size)
    layers = {s.id: render_layer(world, view, s) for s in sources(setup)}
    image = mixed(setup, camera, layers)
    shown = io.BytesIO()
    Image.fromarray(np.round(255 * bt709(image)).astype(np.uint8)).save(shown, "PNG")
    return shown.getvalue(), exr_bytes(image)


REST = 2.5
"""How long after a hand asked for light its cores are left to it [s]."""
PATIENCE = 10.0
"""After so long a cell goes on for a tile, whatever the hand does [s]."""


def _giving_way(hand):
    """A token of :mod:`moth.engine.cancelling` that never gives up, and waits while a file was
    touched of late.
    """

    def wait():
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until:
            try:
                rested = time.time() - os.stat(hand).st_mtime
            except OSError:
                break
            if not 0 <= rested < REST:
                break
            time.sleep(0.03)
        return False

    return wait


def run_document(document, unit_id, level, hand=None, scans=()):
    """:func:`run_cell` of a document as JSON data, its answer as plain data: what is sent to
    another machine and back.

    Parameters
    ----------
    document : dict
    unit_id, level : str
    hand : str or None
        Path of a file that is touched whenever a hand on this machine wants light: it goes first.
    scans : sequence of bytes
        Packed scans that the document names, for a machine that has not got them.

    Returns
    -------
    dict
        The fields of :class:`Cell`.
    """
    for data in scans:
        shelve(data)
    with on_one_core(), until(_giving_way(hand) if hand else None):
        return asdict(run_cell(load(document), unit_id, level))
