"""What units draw their power from."""

from typing import Annotated, Literal

from pydantic import Field

from .basics import ID, Id, Metres, Model, Name

BATTERY = "@battery"
"""What a unit hangs on that draws from no circuit."""
Feed = Annotated[str, Field(pattern=f"^({BATTERY}|{ID})?$")]


class Circuit(Model):
    """A circuit of the place, or an outlet of a generator, behind one breaker."""

    id: Id
    name: Name
    kind: Literal["mains", "generator"] = "mains"
    volts: Annotated[float, Field(allow_inf_nan=False, ge=50, le=480)] = 230.0
    amperes: Annotated[float, Field(allow_inf_nan=False, ge=1, le=400)] = 16.0
    """Of its breaker."""
    wire: Annotated[float, Field(allow_inf_nan=False, ge=0.5, le=120)] = 2.5
    """Copper of the cables that are run from it [mm²]."""
    sockets: Annotated[tuple[tuple[Metres, Metres], ...], Field(max_length=12)] = ()
    """Where they are on the plan."""
