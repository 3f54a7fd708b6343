"""Finishes: a diffuse part (the albedo, per vertex) and a sheen on top."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Finish:
    """How a surface reflects besides its diffuse albedo."""

    name: str
    roughness: float
    """GGX alpha [1]: 0 a mirror, 1 no visible sheen."""
    normal_reflectance: float
    """Fresnel reflectance at normal incidence [1]; 0 for none."""
    tint: float = 0.0
    """Power of the albedo that the sheen takes as its colour: 0 white, 1 as metal."""
    nap: float = 0.0
    """Optical depth of the fibres that stand off it [1]; 0 for none."""
    source: str = "typical"


FINISHES = (
    Finish(
        "skin",
        0.32,
        0.028,
        source="Weyrich et al. 2006: 0.2 to 0.4, by place: transport.gloss; index 1.4",
    ),
    Finish(
        "hair",
        0.30,
        0.046,
        source="moulded, index 1.55; wisps: moth.transport.fibres",
    ),
    Finish("garment", 1.0, 0.0),
    Finish("eye", 0.0, 0.025, source="cornea, index 1.376"),
    Finish("metal", 0.22, 0.60, tint=1.0),
    Finish("leather", 0.35, 0.04),
    Finish("matte", 1.0, 0.0),
    Finish("gloss", 0.20, 0.04, source="varnish, index 1.5"),
    Finish("satin", 0.30, 0.05, source="silk fibre, index 1.56; lobe as a plain surface"),
    Finish("mirror", 0.0, 0.0, source="its picture is the mirrored view"),
    Finish(
        "wool",
        1.0,
        0.0,
        tint=0.5,
        nap=0.15,
        source="typical; the layer after Chandrasekhar 1950, as Koenderink and Pont 2003 use it",
    ),
    Finish("woven", 1.0, 0.0, tint=0.5, nap=0.06, source="typical; a jacket's close nap"),
)
"""By index: the first six are those of the figure files (script/build-figures)."""
CLOTHS = {"plain": "garment", "cotton": "garment", "wool": "wool", "silk": "satin"}
"""Finish of each cloth that people wear (moth.document.Figure.cloth)."""
