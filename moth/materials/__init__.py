"""What surfaces do with light."""

from .finish import CLOTHS, FINISHES, Finish
from .sheets import MATERIALS, Material, calibrated, lobe_concentration

__all__ = [
    "CLOTHS",
    "FINISHES",
    "MATERIALS",
    "Finish",
    "Material",
    "calibrated",
    "lobe_concentration",
]
