"""Linear frames as OpenEXR."""

import tempfile
from pathlib import Path

import numpy as np


def write_exr(path, image, half=False):
    """Write linear BT.709 floats (height, width, 3) as OpenEXR.

    Parameters
    ----------
    path : str or Path
    image : array_like, shape (height, width, 3)
    half : bool
        In half the bits: eleven of precision, to 65,504.
    """
    import OpenEXR

    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
    pixels = np.ascontiguousarray(np.clip(image, 0, 65504), np.float16 if half else np.float32)
    with OpenEXR.File(header, {"RGB": pixels}) as file:
        file.write(str(path))


def exr_bytes(image):
    """The same in half the bits, as bytes.

    Examples
    --------
    >>> exr_bytes(np.zeros((2, 2, 3)))[:4].hex()
    '762f3101'
    """
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "frame.exr"
        write_exr(path, image, half=True)
        return path.read_bytes()
