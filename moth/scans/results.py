"""What becomes of a model's file: known to whoever asks, without the library that opens it."""

from dataclasses import dataclass

UNREADABLE = (
    "This is no model that can be read: it is damaged, or neither GLB, OBJ nor a zip that holds one"
    " of them with its textures."
)


@dataclass(frozen=True)
class Brought:
    """A model as it is kept, and what is to be said of it."""

    scan: bytes
    """As moth.place.scans packs it."""
    notes: tuple[str, ...]
