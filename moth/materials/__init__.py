"""What skin, hair, cloth and furniture do with light."""

from .finish import FINISHES, Finish

__all__ = ["FINISHES", "Finish"]
