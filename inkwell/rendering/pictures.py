"""Frames of stored set-ups as PNG, kept by content."""

from django.core.cache import caches

from moth.camera import by_work_light
from moth.document import load
from moth.engine.caching import content_hash

from .answers import Rank
from .jobs import COARSE, FULL
from .questions import picture
from .service import answered, engine


def frame_png(person, stored, large):
    """The lit frame of a set-up as it is stored, by its work light where nothing is lit.

    Parameters
    ----------
    person : int
        Whose turn it is in the engine.
    stored : dict
        The document.
    large : bool
        As large as the desk's, or coarse.

    Returns
    -------
    bytes
    """
    size = FULL if large else COARSE
    key = content_hash("picture", stored, list(size))
    data = caches["pictures"].get(key)
    if data is None:
        document = by_work_light(load(stored))
        asked = engine().ask_of_picture(person, Rank.PICTURE, size, picture, document, size)
        data = answered(asked)
        caches["pictures"].set(key, data)
    return data
