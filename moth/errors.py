"""The one family of errors. Each carries the place in the document and a sentence a gaffer
understands.
"""


class MothError(Exception):
    """Something in a document or file cannot be used.

    Parameters
    ----------
    sentence : str
        What is wrong and what to do about it, in the trade's words.
    path : str
        Place in the document, such as ``units[2].dimmer``; empty for the whole.

    Examples
    --------
    >>> str(MothError("The lamp is inside the wall.", "units[0].position"))
    'units[0].position: The lamp is inside the wall.'
    """

    def __init__(self, sentence, path=""):
        super().__init__(sentence)
        self.sentence = sentence
        self.path = path

    def __reduce__(self):
        # It travels between processes with its place.
        return type(self), (self.sentence, self.path)

    def __str__(self):
        return f"{self.path}: {self.sentence}" if self.path else self.sentence


class DocumentError(MothError):
    """The set-up document is not what the format asks for."""


class PlacementError(MothError):
    """Something stands where it cannot: in a wall, a head, furniture."""


class PhotometryError(MothError):
    """A photometric file or head cannot be read."""


class Cancelled(Exception):
    """The work was stopped because nobody waits for it any more."""
