"""Cloths, boards and reflectors: where the light that falls on them goes.

A share of it comes back (diffuse, in a lobe about the mirrored direction, mirrored), a share goes
through (straight, in a lobe about its direction, diffuse); the rest is swallowed. Shares are of
photometric flux at normal incidence. Values marked typical are what cloths of the kind show, with
the tolerance given: between makers and washings they differ by as much.
"""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE, mired_gain
from ..errors import MothError


@dataclass(frozen=True)
class Material:
    """One cloth or board; every share 0..1, together at most 0.98."""

    key: str
    name: str
    group: str
    """"cloth", "net", "board", "reflector", "dark", "wall" or "ground"."""
    reflectance: float = 0.0
    """Diffuse, sent back."""
    mirror: float = 0.0
    lobe: float = 0.0
    """Sent back in a lobe about the mirrored direction."""
    lobe_width: float = 20.0
    """Full angle at half its peak [deg]."""
    straight: float = 0.0
    """Goes through without a turn: the hard core."""
    forward: float = 0.0
    """Goes through in a lobe about its direction."""
    forward_width: float = 20.0
    """Full angle at half its peak [deg]."""
    through: float = 0.0
    """Goes through and leaves diffuse."""
    tint: float = 0.0
    """Shift of white on the way [mired]; plus is warmer."""
    colour: tuple = (1.0, 1.0, 1.0)
    tolerance: float = 0.15
    """Relative, of the shares."""
    source: str = "typical"

    @property
    def transmission(self):
        """All that goes through [1].

        Examples
        --------
        >>> round(MATERIALS["grid-full"].transmission, 2)
        0.3
        """
        return self.straight + self.forward + self.through

    @property
    def returned(self):
        """All that comes back [1]."""
        return self.reflectance + self.lobe + self.mirror

    @property
    def hue(self):
        """Linear BT.709 factors of luminance 1 that light takes on here.

        Examples
        --------
        >>> hue = MATERIALS["muslin-unbleached"].hue
        >>> bool(hue[0] > hue[2]), round(float(LUMINANCE @ hue), 6)
        (True, 1.0)
        """
        rgb = np.maximum(np.asarray(self.colour, float), 1e-3) * mired_gain(self.tint)
        return rgb / (LUMINANCE @ rgb)


def lobe_concentration(width):
    """Concentration of a von Mises-Fisher lobe from its full angle at half the peak.

    Parameters
    ----------
    width : float
        [deg], > 0.

    Returns
    -------
    float
        kappa = ln 2 / (1 - cos(width / 2)).

    References
    ----------
    Mardia & Jupp, Directional Statistics (2000), 9.3.2.

    Examples
    --------
    >>> round(lobe_concentration(20), 1)
    45.6
    """
    return float(np.log(2) / (1 - np.cos(np.radians(width) / 2)))


def calibrated(material, with_it, without):
    """A cloth whose whole transmission is what two readings say; its shares keep their proportions.

    Parameters
    ----------
    material : Material
    with_it, without : float
        Level behind the cloth and with it taken away [lx, or any one unit].

    Returns
    -------
    Material

    Raises
    ------
    MothError
        When the readings cannot be of a cloth.

    Examples
    --------
    >>> round(calibrated(MATERIALS["silk"], 400, 1000).transmission, 3)
    0.4
    """
    from dataclasses import replace

    if not 0 < with_it < without:
        raise MothError(
            "With the cloth the meter must read more than nothing and less than without it.",
            "with_it",
        )
    if not material.transmission:
        raise MothError(
            f"{material.name} lets no light through: there is nothing to calibrate.", "material"
        )
    factor = with_it / without / material.transmission
    room = 0.98 - with_it / without
    back = min(1.0, room / max(material.returned, 1e-9))
    return replace(
        material,
        straight=material.straight * factor,
        forward=material.forward * factor,
        through=material.through * factor,
        reflectance=material.reflectance * back,
        lobe=material.lobe * back,
        mirror=material.mirror * back,
        source="measured",
        tolerance=0.05,
    )


def _cloth(key, name, straight, forward, through, back, **more):
    return Material(
        key,
        name,
        "cloth",
        reflectance=back,
        straight=straight,
        forward=forward,
        through=through,
        **more,
    )


def _board(key, name, reflectance, group="board", **more):
    return Material(key, name, group, reflectance=reflectance, **{"tolerance": 0.1, **more})


_FRESNEL = "typical; front-surface glass 4 % (Fresnel, index 1.5) included"
_SOIL = "typical; broadband albedo of the kind, Oke, Boundary Layer Climates (1987)"


def _ground(key, name, reflectance, colour):
    more = {"source": _SOIL, "tolerance": 0.3}
    return _board(key, name, reflectance, "ground", colour=colour, **more)


_DRAPE = {
    "tolerance": 0.3,
    "source": "typical; shares of this order in EN 14501:2021, classes of visual comfort of blinds",
}
_PAINT = "typical; CIBSE/SLL Lighting Handbook gives reflectances of this order"

MATERIALS = {
    m.key: m
    for m in (
        _cloth("grid-quarter", "Quarter grid cloth", 0.08, 0.32, 0.20, 0.33, forward_width=16),
        _cloth("grid-half", "Half grid cloth", 0.01, 0.19, 0.25, 0.47, forward_width=24),
        _cloth("grid-full", "Full grid cloth", 0.0, 0.04, 0.26, 0.60, forward_width=30),
        _cloth("frost-light", "Light frost", 0.25, 0.55, 0.05, 0.10, forward_width=9),
        _cloth("frost-heavy", "Heavy frost", 0.02, 0.46, 0.17, 0.27, forward_width=20),
        _cloth("opal", "Opal frost", 0.12, 0.50, 0.12, 0.19, forward_width=12),
        _cloth("silk", "Silk", 0.12, 0.13, 0.25, 0.42, forward_width=22),
        _cloth("muslin-bleached", "Bleached muslin", 0.0, 0.0, 0.28, 0.66),
        _cloth("muslin-unbleached", "Unbleached muslin", 0.0, 0.0, 0.22, 0.56, tint=25),
        _cloth(
            "bedsheet",
            "Bed sheet, white cotton",
            0.01,
            0.04,
            0.30,
            0.58,
            forward_width=28,
            tolerance=0.25,
        ),
        _cloth(
            "shower-curtain",
            "Shower curtain, frosted",
            0.05,
            0.35,
            0.30,
            0.22,
            forward_width=26,
            tolerance=0.25,
        ),
        _cloth(
            "baking-parchment",
            "Baking parchment",
            0.03,
            0.27,
            0.20,
            0.40,
            forward_width=22,
            tint=8,
            tolerance=0.25,
        ),
        _cloth(
            "tracing-paper",
            "Tracing paper",
            0.05,
            0.37,
            0.20,
            0.30,
            forward_width=18,
            tolerance=0.2,
        ),
        _cloth("voile", "Voile, sheer curtain", 0.46, 0.10, 0.16, 0.22, forward_width=14, **_DRAPE),
        _cloth("curtain-linen", "Linen curtain, unlined", 0.02, 0.0, 0.17, 0.52, tint=12, **_DRAPE),
        _cloth(
            "dusty-pane", "Dust on the pane", 0.70, 0.13, 0.02, 0.07, forward_width=10, **_DRAPE
        ),
        Material(
            "net-single", "Single net, black", "net", reflectance=0.02, straight=0.71, tolerance=0.1
        ),
        Material(
            "net-double", "Double net, black", "net", reflectance=0.03, straight=0.50, tolerance=0.1
        ),
        _board("foam-white", "Foam board, white", 0.86),
        _board("board-matte", "Matte white board", 0.82),
        _board("styrofoam", "Styrofoam, white", 0.80),
        _board("muslin-bleached-board", "Bleached muslin on a board", 0.76),
        _board("muslin-unbleached-board", "Unbleached muslin on a board", 0.64, tint=25),
        _board("blanket-white", "Sound blanket, white side", 0.62, tolerance=0.2),
        _board("silver-soft", "Soft silver", 0.14, lobe=0.62, lobe_width=34),
        _board("silver-hard", "Hard silver", 0.05, lobe=0.76, lobe_width=9),
        _board("gold", "Gold, soft", 0.10, lobe=0.58, lobe_width=28, colour=(1.0, 0.72, 0.32)),
        _board("reflector-10", "Hard reflector, 10°", 0.02, "reflector", lobe=0.84, lobe_width=10),
        _board("reflector-20", "Hard reflector, 20°", 0.03, "reflector", lobe=0.82, lobe_width=20),
        _board("reflector-40", "Hard reflector, 40°", 0.05, "reflector", lobe=0.76, lobe_width=40),
        _board("reflector-60", "Hard reflector, 60°", 0.08, "reflector", lobe=0.70, lobe_width=60),
        _board("mirror", "Mirror", 0.0, "reflector", mirror=0.88, source=_FRESNEL, tolerance=0.05),
        _board("duvetyne", "Black duvetyne", 0.025, "dark", tolerance=0.4),
        _board("velvet", "Black velvet", 0.006, "dark", tolerance=0.5),
        _board("paint-white", "White wall paint", 0.80, "wall", source=_PAINT),
        _board(
            "paint-magnolia",
            "Cream wall paint",
            0.70,
            "wall",
            colour=(1.0, 0.90, 0.70),
            source=_PAINT,
        ),
        _board("paint-grey", "Mid-grey wall paint", 0.35, "wall", source=_PAINT),
        _board(
            "paint-green",
            "Dull green wall paint",
            0.28,
            "wall",
            colour=(0.62, 0.82, 0.58),
            source=_PAINT,
        ),
        _board("wood-oak", "Oak boards", 0.30, "wall", colour=(1.0, 0.68, 0.40), tolerance=0.25),
        _board(
            "brick",
            "Brick, red",
            0.28,
            "wall",
            colour=(1.0, 0.52, 0.38),
            source=_SOIL,
            tolerance=0.25,
        ),
        _board(
            "concrete",
            "Concrete",
            0.32,
            "wall",
            colour=(1.0, 0.97, 0.92),
            source=_SOIL,
            tolerance=0.3,
        ),
        _ground("grass", "Grass", 0.22, (0.62, 1.0, 0.32)),
        _ground("asphalt", "Asphalt", 0.12, (1.0, 0.98, 0.95)),
        _ground("mud", "Mud, wet", 0.10, (1.0, 0.84, 0.66)),
        _ground("sand", "Sand, dry", 0.35, (1.0, 0.84, 0.62)),
        _ground("snow", "Snow, fresh", 0.80, (0.95, 0.98, 1.0)),
    )
}
"""Materials by key."""
