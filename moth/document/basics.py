"""What every model of the document is made of: ranges of numbers, names, ids."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Finite = Annotated[float, Field(allow_inf_nan=False)]
Metres = Annotated[float, Field(allow_inf_nan=False, ge=-200, le=200)]
Size = Annotated[float, Field(allow_inf_nan=False, gt=0, le=200)]
Point = tuple[Metres, Metres, Metres]
Colour = tuple[
    Annotated[float, Field(ge=0, le=1)],
    Annotated[float, Field(ge=0, le=1)],
    Annotated[float, Field(ge=0, le=1)],
]
Share = Annotated[float, Field(allow_inf_nan=False, ge=0, le=0.98)]
Span = Annotated[float, Field(allow_inf_nan=False, ge=0.05, le=12)]
Name = Annotated[str, Field(min_length=1, max_length=80)]


ID = r"[a-z0-9][a-z0-9-]{0,39}"
SKY, SUN, BACKDROP = "@sky", "@sun", "@backdrop"
"""Names of what is no item of a list: no id may begin so."""
WINDOW = "window:"
"""Before the id of an opening where a unit could be meant."""
Id = Annotated[str, Field(pattern=f"^{ID}$")]
Thing = Annotated[str, Field(pattern=f"^({SUN}|{BACKDROP}|({WINDOW})?{ID})$")]

KEPT = {
    "person": "figures",
    "furniture": "furniture",
    "unit": "units",
    "grip": "grip",
    "mark": "marks",
    "camera": "cameras",
}
"""Kinds of things that an aim may be kept on, and where the set-up lists them."""
Kept = Annotated[str, Field(pattern=f"^$|^({'|'.join(KEPT)}):{ID}$")]
"""What an aim is kept on, as kind:id; empty for a place of its own."""


Thrown = Annotated[str, Field(pattern=f"^$|^@sun$|^unit:{ID}$")]
"""Whose light a sheet throws at the face: a unit's, as unit:id, the sun's, or nobody's."""


Bearer = Annotated[str, Field(pattern=f"^({ID})?$")]
"""Id of the unit whose stand bears an arm; empty for what no arm holds."""


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)
