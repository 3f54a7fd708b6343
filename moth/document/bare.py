"""The smallest set-up, to begin from: in examples, in tests, on the shelf."""

from .model import Setup

BARE = {
    "figures": [{"id": "a", "name": "a", "position": [2, 2]}],
    "cameras": [{"id": "c", "name": "c", "position": [2, 5, 1.5], "aim": [2, 2, 1.5]}],
}


def bare(**parts):
    """A set-up of one person three metres before a lens, in the dark.

    Parameters
    ----------
    **parts
        Top-level parts of the document to add or put in place of these, as plain data.

    Returns
    -------
    Setup

    Examples
    --------
    >>> bare(title="Chart desk").figures[0].position
    (2.0, 2.0)
    """
    return Setup.model_validate({**BARE, **parts})
