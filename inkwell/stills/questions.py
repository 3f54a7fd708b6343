"""What the engine is asked of stills: plain functions, without a database."""

from moth.stills.everything import built_from, differs_from, read_still
from moth.stills.marks import Marks, Record


def read(document, data, record, marks, say):
    """A still read; no set-up is asked for. See :func:`moth.stills.everything.read_still`."""
    return read_still(data, record, marks, say)


def built(base, data, record, marks, title):
    """A set-up from a still on the place of another, or none, as JSON data; and what is to be
    minded.
    """
    made = built_from(data, Record.model_validate(record), Marks.model_validate(marks), base, title)
    return made.setup.model_dump(mode="json"), list(made.words)


def differing(setup, data, record, marks, say):
    """What a set-up's frame does otherwise than a still."""
    return differs_from(
        data, Record.model_validate(record), Marks.model_validate(marks), setup, say
    )
