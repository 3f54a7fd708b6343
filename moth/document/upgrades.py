"""Documents of older versions as ones of the newest."""

NEWEST = 7


def upgrade(data):
    """A document of an older version as one of the newest; the mapping given stays as it is.

    Version 2 added attachments, grip, openings, sky, haze and materials, version 3 the camera's
    curve, native index, filters, focus and guides, version 4 what is fixed, targets, the order of
    work and eyelines: an older document has none, and the defaults are what it meant. Version 5
    names what is fixed so that a unit, an opening and the sun can bear one id. Version 6 tells
    which cloths are in a softbox, where there was a number of them, version 7 which cloth people
    wear, where there was only one that shines: people read that themselves, for they stand in the
    marks of stills too, which have no version.

    Parameters
    ----------
    data : dict
        Its `schema_version` is read; without one nothing can be told.

    Returns
    -------
    dict

    Raises
    ------
    ValueError
        For a version that this program does not read.

    Examples
    --------
    >>> upgrade({"schema_version": 4, "fixed": [{"thing": "sun", "stops": 2}]})["fixed"]
    [{'thing': '@sun', 'stops': 2}]
    """
    version = data.get("schema_version")
    if isinstance(version, bool) or version not in range(1, NEWEST + 1):
        raise ValueError(
            f"This file is of version {version}; this program reads versions 1 to {NEWEST}."
        )
    if version < 5 and isinstance(data.get("fixed"), list):
        data = {**data, "fixed": [_named_apart(data, f) for f in data["fixed"]]}
    if version < 6 and isinstance(data.get("units"), list):
        data = {**data, "units": [_with_cloths(u) for u in data["units"]]}
    return {**data, "schema_version": NEWEST}


def _with_cloths(unit):
    """A unit of version 5: one cloth in a box was its front, two the inner one as well."""
    hung = unit.get("attachments") if isinstance(unit, dict) else None
    if not isinstance(hung, list):
        return unit
    return {**unit, "attachments": [_with_named_cloths(item) for item in hung]}


def _with_named_cloths(item):
    settings = item.get("settings") if isinstance(item, dict) else None
    if not isinstance(settings, dict) or "baffles" not in settings:
        return item
    rest = {k: v for k, v in settings.items() if k != "baffles"}
    number = settings["baffles"]
    if isinstance(number, int | float) and not isinstance(number, bool):
        rest["cloths"] = 2.0 if number < 1.5 else 3.0
    return {**item, "settings": rest}


def _named_apart(data, fixed):
    """A fixed thing of version 4: units went before openings, both before sun and backdrop."""
    if not isinstance(fixed, dict):
        return fixed
    thing = fixed.get("thing")

    def has(kind):
        items = data.get(kind)
        return isinstance(items, list) and any(
            isinstance(item, dict) and item.get("id") == thing for item in items
        )

    if thing in ("sun", "backdrop") and not has("units"):
        return {**fixed, "thing": f"@{thing}"}
    if has("openings") and not has("units"):
        return {**fixed, "thing": f"window:{thing}"}
    return fixed
