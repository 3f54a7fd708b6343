"""Light for interviews and dramatic scenes, computed. Knows nothing of web or database.

A set-up goes in, readings and pictures come out:

>>> import moth
>>> lamp = {"id": "k", "name": "Key", "role": "key", "head": "point-300"}
>>> bare = moth.bare(units=[{**lamp, "position": [3.6, 4, 2.2], "aim": [2, 2, 1.5]}])
>>> book = moth.rig(bare, "k", "book")
>>> moth.inspect(book, "k").cost.stops < -2  # a book light costs more than two stops
True

More in ``examples/``, and ``python -m moth --help`` says the same without a script.
"""

import importlib

_PUBLIC = {
    "bare": ("document", "bare"),
    "load": ("document", "load"),
    "parse": ("document", "parse"),
    "Setup": ("document", "Setup"),
    "MothError": ("errors", "MothError"),
    "read": ("metering", "read_setup"),
    "inspect": ("inspection", "inspect_unit"),
    "level_map": ("inspection", "level_map"),
    "rig": ("solving", "make"),
    "set_ratio": ("solving", "set_ratio"),
    "with_level": ("solving", "with_level"),
    "compare": ("judging", "compare"),
    "level_card": ("card", "level_card"),
}
__all__ = [*_PUBLIC, "render"]


def __getattr__(name):
    # Asked for by need: whoever wants feet and stops alone waits for no ray library.
    if name not in _PUBLIC:
        raise AttributeError(f"module 'moth' has no attribute '{name}'")
    room, own = _PUBLIC[name]
    return getattr(importlib.import_module(f".{room}", __name__), own)


def __dir__():
    return sorted(__all__)


def render(setup, size=(480, 270)):
    """The frame of a set-up's first camera, as its monitor shows it.

    Parameters
    ----------
    setup : moth.Setup
    size : (int, int)
        Width and height [px].

    Returns
    -------
    ndarray of uint8, shape (height, width, 3)
        Black for a set-up without light.

    Raises
    ------
    moth.MothError

    Examples
    --------
    >>> import moth
    >>> moth.render(moth.bare(), (32, 18)).shape
    (18, 32, 3)
    """
    import numpy as np

    from .camera import mix
    from .transport import render_layer, sources, view_of
    from .world import build_world, check_placement

    check_placement(setup)
    camera, world = setup.cameras[0], build_world(setup)
    view = view_of(world, setup, camera, size)
    layers = {s.id: render_layer(world, view, s) for s in sources(setup)}
    return mix(setup, camera, layers) if layers else np.zeros((size[1], size[0], 3), np.uint8)
