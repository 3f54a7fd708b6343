"""How a lamp sends light: distributions, photometric files, heads."""

from .catalogue import HEADS, Head
from .distribution import Distribution, from_angles, from_function
from .ies import read_ies

__all__ = ["HEADS", "Distribution", "Head", "from_angles", "from_function", "read_ies"]
