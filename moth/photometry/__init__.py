"""How a lamp sends light: distributions, photometric files, heads and what hangs on them."""

from .attachments import ATTACHMENTS, Attachment, Setting
from .catalogue import HEADS, NOISE, PRICE, Head
from .distribution import Distribution, from_angles, from_function
from .eulumdat import read_ldt, write_ldt
from .files import read_photometry, write_ies
from .ies import read_ies
from .shaping import CLOTHS, PATTERNS, Lamp
from .stack import gel_of, lamp_key, lamp_of, leak_of, stages

__all__ = [
    "ATTACHMENTS",
    "CLOTHS",
    "HEADS",
    "NOISE",
    "PATTERNS",
    "PRICE",
    "Attachment",
    "Distribution",
    "Head",
    "Lamp",
    "Setting",
    "from_angles",
    "from_function",
    "gel_of",
    "lamp_key",
    "lamp_of",
    "leak_of",
    "read_ies",
    "read_ldt",
    "read_photometry",
    "stages",
    "write_ies",
    "write_ldt",
]
