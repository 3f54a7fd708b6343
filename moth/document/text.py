"""Text in a document: what can be stored and shown."""

import re

_CHARACTERS = re.compile("[\x00\ud800-\udfff]")
UNFIT = "This text holds a character that cannot be stored (NUL, or half of a pair)."


def unfit(value, place=""):
    """Place of the first text in plain data that cannot be stored; None when all can.

    NUL ends a text in many a database; a lone surrogate is half a character.

    Parameters
    ----------
    value : plain data of dicts, lists, texts and numbers
    place : str
        Where it stands.

    Returns
    -------
    str or None

    Examples
    --------
    >>> unfit({"units": [{"name": "Key"}, {"name": "Fi\\x00ll"}]})
    'units[1].name'
    """
    if isinstance(value, str):
        return place if _CHARACTERS.search(value) else None
    if isinstance(value, dict):
        inner = ((v, f"{place}.{k}" if place else str(k)) for k, v in value.items())
        if any(isinstance(k, str) and _CHARACTERS.search(k) for k in value):
            return place
    elif isinstance(value, list | tuple):
        inner = ((v, f"{place}[{k}]") for k, v in enumerate(value))
    else:
        return None
    return next((found for v, at in inner if (found := unfit(v, at)) is not None), None)
