"""The kit: what a production owns or hires, one line a kind of thing, and its table as CSV."""

import csv
import io
from collections.abc import Container
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from ..errors import MothError
from ..materials import MATERIALS
from ..photometry import ATTACHMENTS, HEADS
from ..wording import as_cell

GearKind = Literal[
    "head",
    "attachment",
    "sheet",
    "stand",
    "arm",
    "bag",
    "cable",
    "distribution",
    "battery",
    "filter",
]
KINDS: dict[GearKind, str] = {
    "head": "Heads",
    "attachment": "Hung on heads",
    "sheet": "Cloths, boards, flags",
    "stand": "Stands",
    "arm": "Arms, clamps",
    "bag": "Sandbags",
    "cable": "Cables",
    "distribution": "Distribution",
    "battery": "Batteries",
    "filter": "Gels, ND",
}
"""What the kinds are called, in the order they are listed and packed."""
MOST = 2000
"""Lines a kit may have."""


def _amount(most):
    return Annotated[float, Field(allow_inf_nan=False, ge=0, le=most)]


class Gear(BaseModel):
    """One line of a kit. What is left empty is taken from the catalogue."""

    model_config = ConfigDict(extra="forbid", frozen=True, str_strip_whitespace=True)

    kind: GearKind
    name: Annotated[str, Field(min_length=1, max_length=80)]
    key: Annotated[str, Field(max_length=60)] = ""
    """Of the catalogue: the head or attachment it is or works like, the cloth a sheet is of."""
    count: Annotated[int, Field(ge=0, le=999)] = 1
    price: _amount(1e6) = 0.0  # type: ignore[valid-type]
    """Of one, a day, in the production's money."""
    weight: _amount(2000) | None = None  # type: ignore[valid-type]
    """[kg]"""
    watts: _amount(100_000) | None = None  # type: ignore[valid-type]
    """A head's draw at full [W]."""
    width: _amount(50) | None = None  # type: ignore[valid-type]
    """Of a sheet [m]."""
    height: _amount(50) | None = None  # type: ignore[valid-type]
    """Of a sheet; how far up a stand goes [m]."""
    length: _amount(500) | None = None  # type: ignore[valid-type]
    """Of a cable [m]."""
    watt_hours: _amount(20_000) | None = None  # type: ignore[valid-type]
    """Of a battery [Wh]."""
    amperes: _amount(400) | None = None  # type: ignore[valid-type]
    """Of distribution [A]."""
    lux: _amount(1e7) | None = None  # type: ignore[valid-type]
    """A head's own reading, on its axis at full [lx], at `distance`."""
    distance: _amount(100) | None = None  # type: ignore[valid-type]
    """[m]"""
    file: Annotated[str, Field(max_length=400_000)] = ""
    """A head's own light: a photometric file, IES or EULUMDAT."""
    note: Annotated[str, Field(max_length=200)] = ""

    @model_validator(mode="after")
    def is_known(self):
        catalogue: dict[str, Container[str]]
        catalogue = {"head": HEADS, "attachment": ATTACHMENTS, "sheet": MATERIALS}
        known = catalogue.get(self.kind)
        if self.kind == "head" and self.key not in HEADS:
            raise ValueError("a head needs the head of the catalogue that it is, or works like")
        if known is not None and self.key and self.key not in known:
            raise ValueError(f"the catalogue has no {self.kind} '{self.key}'")
        if (self.lux is None) != (self.distance is None):
            raise ValueError("a reading needs both its lux and its distance")
        return self


COLUMNS = {
    "kind": "Kind",
    "name": "Name",
    "key": "Catalogue",
    "count": "Count",
    "price": "Price a day",
    "weight": "Weight [kg]",
    "watts": "Power [W]",
    "width": "Width [m]",
    "height": "Height [m]",
    "length": "Length [m]",
    "watt_hours": "Capacity [Wh]",
    "amperes": "Current [A]",
    "lux": "Reading [lx]",
    "distance": "Read at [m]",
    "note": "Note",
}
"""Columns of the table by field. A photometric file is no cell: it stays with its line."""


def weight_of(gear):
    """What one of it weighs [kg]: its own figure, or the catalogue's.

    Examples
    --------
    >>> weight_of(Gear(kind="head", name="Mine", key="panel-small"))
    1.9
    >>> weight_of(Gear(kind="bag", name="Bag"))
    7.0
    """
    if gear.weight is not None:
        return gear.weight
    if gear.kind == "head":
        return HEADS[gear.key].weight
    if gear.kind in ("attachment", "filter") and gear.key in ATTACHMENTS:
        return ATTACHMENTS[gear.key].weight
    return TYPICAL_WEIGHT.get(gear.kind, 0.5)


TYPICAL_WEIGHT = {"stand": 4.0, "arm": 3.0, "bag": 7.0, "cable": 2.0, "sheet": 3.0, "battery": 1.0}
"""Where neither the line nor the catalogue says [kg]; typical."""


def write_kit(gear):
    """A kit as CSV text, its heads of columns with their units.

    Parameters
    ----------
    gear : sequence of Gear

    Returns
    -------
    str

    Examples
    --------
    >>> text = write_kit([Gear(kind="bag", name="Sandbag", count=8)])
    >>> read_kit(text)[0].count
    8
    """
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(COLUMNS.values())
    for line in gear:
        table.writerow(_cell(getattr(line, field)) for field in COLUMNS)
    return out.getvalue()


def _cell(value):
    return f"{value:g}" if isinstance(value, float) else as_cell(value)


def read_kit(text):
    """The lines of a kit's table.

    Columns may come in any order, those that are not known are refused; a kind may be left out of
    no line. Nothing is taken where anything is wrong.

    Parameters
    ----------
    text : str
        CSV with commas or semicolons; a comma may be the decimal point of the latter.

    Returns
    -------
    list of Gear

    Raises
    ------
    MothError
        Names the first ten lines that cannot be read, and why.

    Examples
    --------
    >>> read_kit("Kind,Name,Catalogue,Power [W]\\nhead,Mine,panel-small,-5")
    Traceback (most recent call last):
    ...
    moth.errors.MothError: file: Line 2, Power [W]: Input should be greater than or equal to 0.
    """
    text = text.lstrip("\ufeff")
    first = text.split("\n", 1)[0]
    mark = ";" if first.count(";") > first.count(",") else ","
    table = csv.reader(io.StringIO(text), delimiter=mark)
    rows = [(at, row) for at, row in enumerate(table, 1) if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise MothError("The table has no lines: its first names the columns.", "file")
    if len(rows) - 1 > MOST:
        raise MothError(f"The table has {len(rows) - 1} lines; a kit takes {MOST}.", "file")
    fields = _fields(rows[0][1])
    found, faults = [], []
    for at, row in rows[1:]:
        given = {f: _read(f, c, mark) for f, c in zip(fields, row, strict=False) if c.strip()}
        try:
            found.append(Gear.model_validate(given))
        except ValidationError as error:
            faults.append(f"Line {at}{_where(error)}.")
    if faults:
        more = f" And {len(faults) - 10} lines more." if len(faults) > 10 else ""
        raise MothError(" ".join(faults[:10]) + more, "file")
    return found


def _fields(row):
    by_head = {head.lower(): field for field, head in COLUMNS.items()} | {f: f for f in COLUMNS}
    fields = [by_head.get(cell.strip().lower(), "") for cell in row]
    for cell, field in zip(row, fields, strict=True):
        if not field:
            known = ", ".join(COLUMNS.values())
            raise MothError(f"There is no column '{cell.strip()[:40]}': {known}.", "file")
    return fields


def _read(field, cell, mark):
    cell = cell.strip()
    if field in ("kind", "name", "key", "note"):
        cell = cell[1:] if cell.startswith("'") and cell[1:2] in tuple("=+-@") else cell
        return cell.lower() if field == "kind" else cell
    return cell.replace(",", ".") if mark == ";" else cell


def _where(error):
    first = error.errors()[0]
    column = COLUMNS.get(str(first["loc"][0]), "") if first["loc"] else ""
    said = first["msg"].removeprefix("Value error, ")
    return (f", {column}: " if column else ": ") + said
