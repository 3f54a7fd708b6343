"""From text to a checked document, with errors that name the place."""

import json
import math

from pydantic import ValidationError

from ..errors import DocumentError
from .model import Setup
from .text import UNFIT, unfit
from .upgrades import upgrade

LARGEST_DOCUMENT = 2_000_000
"""Bytes; a larger document is refused before it is parsed."""


def _place(location):
    text = ""
    for part in location:
        text += f"[{part}]" if isinstance(part, int) else ("." if text else "") + str(part)
    return text


def load(data):
    """Set-up from a mapping already decoded from JSON.

    Parameters
    ----------
    data : dict
        The document.

    Returns
    -------
    Setup

    Raises
    ------
    DocumentError
        With the place of the first fault, such as ``units[0].dimmer``.

    Examples
    --------
    >>> load({"schema_version": 99})  # doctest: +ELLIPSIS
    Traceback (most recent call last):
        ...
    moth.errors.DocumentError: schema_version: This file is of version 99; this...
    """
    if not isinstance(data, dict):
        raise DocumentError("A set-up file holds one JSON object.")
    place = unfit(data)
    if place is not None:
        raise DocumentError(UNFIT, place)
    try:
        data = upgrade(data)
    except ValueError as error:
        raise DocumentError(str(error), "schema_version") from None
    try:
        return Setup.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False)[0]
        more = error.error_count() - 1
        tail = f" ({more} more fault{'s' if more > 1 else ''})" if more else ""
        sentence = first["msg"].removeprefix("Value error, ")
        raise DocumentError(
            sentence[0].upper() + sentence[1:] + "." + tail, _place(first["loc"])
        ) from None


def parse(text):
    """Set-up from JSON text or bytes; see :func:`load`.

    Examples
    --------
    >>> parse("{")  # doctest: +ELLIPSIS
    Traceback (most recent call last):
        ...
    moth.errors.DocumentError: This is not JSON: Expecting property name...
    """
    if len(text) > LARGEST_DOCUMENT:
        raise DocumentError(
            f"The file is larger than {LARGEST_DOCUMENT // 1_000_000} MB: that is no set-up."
        )
    if isinstance(text, bytes):
        try:
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise DocumentError(f"This is not text: byte {error.start} is not UTF-8.") from None
    try:
        data = json.loads(text, parse_constant=_refuse_constant, parse_float=_finite)
    except json.JSONDecodeError as error:
        raise DocumentError(
            f"This is not JSON: {error.msg} at line {error.lineno}, column {error.colno}."
        ) from None
    except RecursionError:
        raise DocumentError("This JSON is nested too deeply to be a set-up.") from None
    except ValueError as error:  # an integer of absurd length
        raise DocumentError(f"This JSON holds a number that cannot be used: {error}.") from None
    return load(data)


def _refuse_constant(name):
    raise DocumentError(f"The file holds {name}, which is not a number.")


def _finite(text):
    value = float(text)
    if not math.isfinite(value):
        raise DocumentError(f"The file holds {text}, which is too large to be a number.")
    return value


def schema():
    """JSON Schema of the document, as committed in docs/setup.schema.json.

    Examples
    --------
    >>> schema()["title"]
    'Setup'
    """
    return Setup.model_json_schema()
