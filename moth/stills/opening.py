"""A picture file opened: PNG, JPEG, TIFF and EXR, with care for what is no picture.

Run as ``python -m moth.stills.opening`` it opens standard input in a process of its own, within
bounds of memory and time: see :mod:`moth.stills.apart`.
"""

import io
import math
import struct
import tempfile
import warnings
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from ..colour.white import BRADFORD
from ..errors import MothError

LARGEST = 60_000_000
"""Pixels of a file."""
BYTES = 100_000_000
"""Of a file."""
SIDE = 1920
"""Longest side that is kept [px]."""
_EXR = b"\x76\x2f\x31\x01"
_STOP, _FOCAL_35 = 33437, 41989
"""EXIF tags: the lens's stop, and its focal length's equivalent on 35 mm film."""
UNREADABLE = "This file cannot be read as a picture: it is damaged, or not PNG, JPEG, TIFF or EXR."


@dataclass(frozen=True)
class Opened:
    """A picture as it was recorded."""

    code: np.ndarray
    """(height, width, 3) float32: code values 0..1 of a picture, light of an EXR."""
    linear: bool
    """Whether the file itself says that its values are light."""
    focal: float | None
    """Focal length on a full frame that the file tells [mm]."""
    stop: float | None = None
    """Of the lens, as the file tells it."""


def open_still(data):
    """Open a picture, upright, in BT.709 primaries where it tells its own, at most :data:`SIDE`
    pixels long.

    Parameters
    ----------
    data : bytes

    Returns
    -------
    Opened

    Raises
    ------
    MothError
        With a sentence for what is too large, damaged or no picture.

    Examples
    --------
    >>> file = io.BytesIO()
    >>> Image.new("RGB", (32, 18), (255, 128, 0)).save(file, "PNG")
    >>> open_still(file.getvalue()).code[0, 0].round(2).tolist()
    [1.0, 0.5, 0.0]
    """
    if len(data) > BYTES:
        raise MothError(f"The file holds {len(data) / 1e6:.0f} MB; at most {BYTES / 1e6:.0f} MB.")
    try:
        return _open_exr(data) if data[:4] == _EXR else _open_picture(data)
    except MothError:
        raise
    except Image.DecompressionBombError:
        raise _too_large() from None
    except (UnidentifiedImageError, *_DAMAGED):
        raise MothError(UNREADABLE) from None


# What decoders raise of a damaged file; nothing else may pass for one.
_DAMAGED = (
    OSError, EOFError, ValueError, SyntaxError, KeyError, IndexError, TypeError, struct.error,
    OverflowError, ZeroDivisionError, RuntimeError, AttributeError, BufferError, MemoryError,
)  # fmt: skip


def _too_large():
    return MothError(f"The picture has too many pixels: at most {LARGEST / 1e6:.0f} million.")


def _within(width, height):
    if width * height > LARGEST:
        raise _too_large()
    if min(width, height) < 16:
        raise MothError("The picture is smaller than 16 pixels.")


def _kept(width, height):
    part = min(1.0, SIDE / max(width, height))
    return max(1, round(width * part)), max(1, round(height * part))


def _open_picture(data):
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF")) as image:
            _within(*image.size)
            told = image.getexif()
            focal, stop = _told(told, _FOCAL_35, 4, 1200), _told(told, _STOP, 0.5, 90)
            profile = image.info.get("icc_profile")
            # A JPEG can be taken smaller while it is decoded.
            image.draft("RGB", _kept(*image.size))
            image.load()
            upright = ImageOps.exif_transpose(image)
            code = _eight_bits(upright, profile)
    return Opened(np.asarray(code, np.float32) / 255, False, focal, stop)


def _eight_bits(image, profile):
    """A picture as RGB of its kept size. Deeper ones than eight bits keep their eight highest."""
    if image.mode.startswith(("I", "F")):
        deep = np.asarray(image, float)
        top = 65535.0 if deep.max() > 255 else (255.0 if deep.max() > 1 else 1.0)
        image = Image.fromarray((255 * np.clip(deep / top, 0, 1)).astype(np.uint8))
    elif profile and image.mode in ("RGB", "RGBA", "L", "CMYK"):
        try:
            its_own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            source = image.convert("RGB") if image.mode == "RGBA" else image
            image = ImageCms.profileToProfile(
                source, its_own, ImageCms.createProfile("sRGB"), outputMode="RGB"
            )
        except (ImageCms.PyCMSError, OSError):
            # A damaged profile tells nothing: the values stand as they are.
            pass
    image = image.convert("RGB")
    return image.resize(_kept(*image.size), Image.Resampling.BOX)


def _told(exif, tag, low, high):
    """A number that EXIF tells, or None."""
    try:
        value = float(exif.get_ifd(0x8769).get(tag))
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    return value if math.isfinite(value) and low <= value <= high else None


_BT709_PRIMARIES = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)


def _open_exr(data):
    import OpenEXR

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "still.exr"
        path.write_bytes(data)
        with OpenEXR.File(str(path), header_only=True) as file:
            header = file.header()
            low, high = (np.asarray(corner, float) for corner in header["dataWindow"])
            _within(*(high - low + 1))
            told = header.get("chromaticities")
        with OpenEXR.File(str(path), separate_channels=True) as file:
            channels = {name: c.pixels for name, c in file.channels().items()}
    names = next((n for n in (("R", "G", "B"), ("Y", "Y", "Y")) if set(n) <= set(channels)), None)
    if names is None:
        raise MothError("This EXR holds neither R, G and B nor Y.")
    light = np.stack([np.asarray(channels[n], np.float32) for n in names], 2)
    light = np.clip(np.nan_to_num(light, nan=0, posinf=65504, neginf=0), 0, 65504)
    light = _smaller(light)
    if told is not None:
        light = np.maximum(light @ _to_bt709(told).T, 0).astype(np.float32)
    return Opened(light, True, None)


def _smaller(light):
    """Light taken together so that its longest side is kept: each place is a mean."""
    height, width = light.shape[:2]
    part = math.ceil(max(width, height) / SIDE)
    if part == 1:
        return light
    cut = light[: height // part * part, : width // part * part]
    return cut.reshape(height // part, part, width // part, part, 3).mean((1, 3))


def _to_bt709(told):
    """Matrix from primaries of a file to BT.709, its white to ours."""
    return np.linalg.inv(_balanced(_BT709_PRIMARIES)) @ _balanced(np.ravel(told))


def _balanced(primaries):
    """Cone signals [Bradford] of each primary, so scaled that together they are white."""
    x, y = np.asarray(primaries, float).reshape(4, 2)[:3].T
    if (np.abs(y) < 1e-4).any():
        raise MothError("This EXR tells primaries that are no colours.")
    cones = BRADFORD @ np.stack([x / y, np.ones(3), (1 - x - y) / y])
    wx, wy = np.asarray(primaries, float)[6:]
    white = BRADFORD @ np.array([wx / wy, 1, (1 - wx - wy) / wy])
    return np.linalg.solve(np.diag(white), cones * np.linalg.solve(cones, white))


def main():
    """Open standard input; the picture goes to standard output, a refusal to standard error."""
    import os
    import sys

    # What decoders print of a damaged file is not part of the answer.
    answer = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)
    try:
        opened = open_still(sys.stdin.buffer.read())
    except MothError as error:
        print(error, file=sys.stderr)
        return 2
    np.savez(
        answer,
        code=opened.code.astype(np.float16),
        linear=opened.linear,
        focal=opened.focal or 0.0,
        stop=opened.stop or 0.0,
    )
    answer.close()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
