"""What surfaces do with light."""

from .finish import FINISHES, Finish
from .sheets import MATERIALS, Material, calibrated, lobe_concentration

__all__ = ["FINISHES", "MATERIALS", "Finish", "Material", "calibrated", "lobe_concentration"]
