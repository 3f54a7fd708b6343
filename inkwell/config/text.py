"""Text from outside: what the database and the screen can hold."""

import json
import re

from ninja.parser import Parser

from moth.document import UNFIT, unfit


class FitParser(Parser):
    """Bodies as JSON, every text in them fit to be stored."""

    def parse_body(self, request):
        data = json.loads(request.body)
        place = unfit(data)
        if place is not None:
            # The framework turns whatever is raised here into one sentence: problems.py says this.
            request.unfit = place.removeprefix("document.")
            raise ValueError(UNFIT)
        return data


def file_name(title: str) -> str:
    """A title as a name that every file system takes.

    Examples
    --------
    >>> file_name("Keeper, instrument room")
    'keeper-instrument-room'
    """
    plain = "".join(c if c.isascii() and c.isalnum() else "-" for c in title.lower())
    return re.sub("-+", "-", plain).strip("-") or "setup"
