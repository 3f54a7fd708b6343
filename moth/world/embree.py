"""Embree by its C interface: scenes of triangles, and packets of sixteen rays that compiled loops
trace without the interpreter.

The library comes with the embreex package, whose own wrapper casts one ray at a time and takes the
interpreter's lock
around every call. Embree 4 API: https://github.com/RenderKit/embree/blob/master/README.md, sections
"RTCRay" to "rtcOccluded4/8/16".
"""

import ctypes
import importlib.metadata
import weakref
from typing import Any, NamedTuple

import llvmlite.binding
import numpy as np
from numba import njit
from numba.core import types

WIDTH = 16
"""Rays of a packet. Processors without vectors that wide have theirs split by the library."""
_TRIANGLES, _INDICES, _VERTICES = 0, 0, 1  # RTC_GEOMETRY_TYPE_TRIANGLE, RTC_BUFFER_TYPE_*
_UINT3, _FLOAT3 = 0x5003, 0x9003  # RTC_FORMAT_*
_ROBUST = 1 << 2
"""RTC_SCENE_FLAG_ROBUST: without it about one ray in a million slips out of a closed room between
two triangles.
"""
EACH = 95
"""Bytes that the library keeps for a triangle, its corners' places and its tree: as its own memory
monitor tells them.
"""
_P, _SIZE, _UINT = ctypes.c_void_p, ctypes.c_size_t, ctypes.c_uint
_CALLS: dict[str, tuple[Any, list]] = {
    "rtcNewDevice": (_P, [ctypes.c_char_p]),
    "rtcGetDeviceError": (ctypes.c_int, [_P]),
    "rtcNewScene": (_P, [_P]),
    "rtcCommitScene": (None, [_P]),
    "rtcReleaseScene": (None, [_P]),
    "rtcSetSceneFlags": (None, [_P, ctypes.c_int]),
    "rtcNewGeometry": (_P, [_P, ctypes.c_int]),
    "rtcSetNewGeometryBuffer": (_P, [_P, ctypes.c_int, _UINT, ctypes.c_int, _SIZE, _SIZE]),
    "rtcCommitGeometry": (None, [_P]),
    "rtcAttachGeometry": (_UINT, [_P, _P]),
    "rtcReleaseGeometry": (None, [_P]),
}


def _library():
    found = [f for f in importlib.metadata.files("embreex") or [] if f.name.startswith("libembree")]
    if not found:
        raise ImportError("the embreex package carries no libembree: install it from its wheel")
    path = str(found[0].locate())
    # Compiled loops look its functions up by name, so that they can be kept on disk.
    llvmlite.binding.load_library_permanently(path)
    library = ctypes.CDLL(path)
    for name, (result, arguments) in _CALLS.items():
        getattr(library, name).restype, getattr(library, name).argtypes = result, arguments
    return library


_rtc = _library()
_device = _rtc.rtcNewDevice(b"")


class _Arguments(ctypes.Structure):
    """RTCOccludedArguments and RTCIntersectArguments, which are laid out alike."""

    _fields_ = [
        ("flags", ctypes.c_int),
        ("features", _UINT),
        ("context", _P),
        ("filter", _P),
        ("own", _P),
        ("width", ctypes.c_float),
    ]


_coherent = _Arguments(1 << 16, 0xFFFFFFFF, None, None, None, 0.0)  # RTC_RAY_QUERY_FLAG_COHERENT
_address = types.uintp
_occluded = types.ExternalFunction(
    "rtcOccluded16", types.void(_address, _address, _address, _address)
)
_intersect = types.ExternalFunction(
    "rtcIntersect16", types.void(_address, _address, _address, _address)
)


class Triangles:
    """A committed scene of one mesh, and its addresses for compiled loops.

    Parameters
    ----------
    vertices : ndarray, shape (n, 3)
        [m]
    faces : ndarray of int, shape (m, 3)

    Raises
    ------
    MemoryError
        When the library could not build it.

    Attributes
    ----------
    nbytes : int
        What it holds outside of Python's sight, within a quarter: trees differ by processor.
    together, scattered : ndarray of uintp, shape (2,)
        The scene, and how the library shall walk its tree: for rays side by side, or every way. It
        finds the same.

    Examples
    --------
    >>> bool(Triangles(np.eye(3), np.array([[0, 1, 2]])).together[0])
    True
    """

    def __init__(self, vertices, faces):
        scene, geometry = _rtc.rtcNewScene(_device), _rtc.rtcNewGeometry(_device, _TRIANGLES)
        _rtc.rtcSetSceneFlags(scene, _ROBUST)
        for kind, form, rows in (
            (_VERTICES, _FLOAT3, np.ascontiguousarray(vertices, np.float32)),
            (_INDICES, _UINT3, np.ascontiguousarray(faces, np.uint32)),
        ):
            # Its last element is read sixteen bytes wide: the library's own buffers have room for
            # that.
            place = _rtc.rtcSetNewGeometryBuffer(geometry, kind, 0, form, 12, len(rows))
            if place:
                ctypes.memmove(place, rows.ctypes.data, rows.nbytes)
        _rtc.rtcCommitGeometry(geometry)
        _rtc.rtcAttachGeometry(scene, geometry)
        _rtc.rtcReleaseGeometry(geometry)
        _rtc.rtcCommitScene(scene)
        error = _rtc.rtcGetDeviceError(_device)
        if error:
            raise MemoryError(
                f"Embree could not build a scene of {len(faces)} triangles (error {error})"
            )
        # Given to compiled loops and never a constant in them: those are kept on disk, and
        # addresses are another run's there.
        self.nbytes = EACH * len(faces)
        self.together = np.array([scene, ctypes.addressof(_coherent)], np.uintp)
        self.scattered = np.array([scene, 0], np.uintp)
        weakref.finalize(self, _rtc.rtcReleaseScene, scene)


# A packet is RTCRayHit16: rows of sixteen numbers. Of the ray: 0-2 origin, 3 nearest, 4-6
# direction, 7 time, 8 farthest, 9 mask, 10 id, 11 flags;
# of the hit: 12-14 normal, 15-16 place, 17 primitive, 18 geometry, 19-20 instance.
_ROWS = 21


class Packet(NamedTuple):
    """Rays that are traced at once."""

    numbers: np.ndarray
    """See above."""
    whole: np.ndarray
    """The same as whole numbers."""
    counted: np.ndarray
    """Which of its rays count: -1, else 0."""


@njit(nogil=True, cache=True)
def new_packet():
    """An empty packet."""
    store = np.empty((_ROWS + 2) * WIDTH, np.float32)
    # The library asks for addresses in 64 bytes.
    off = ((64 - store.ctypes.data % 64) % 64) // 4
    numbers = store[off : off + _ROWS * WIDTH]
    whole = numbers.view(np.int32)
    counted = store[off + _ROWS * WIDTH : off + (_ROWS + 1) * WIDTH].view(np.int32)
    whole[:] = 0
    whole[9 * WIDTH : 10 * WIDTH] = -1
    counted[:] = 0
    return Packet(numbers, whole, counted)


@njit(inline="always")
def put_ray(packet, k, origin, direction, far):
    """Make the k-th ray of a packet: origin and distance [m], unit direction."""
    numbers, whole = packet.numbers, packet.whole
    numbers[k], numbers[WIDTH + k], numbers[2 * WIDTH + k] = origin
    numbers[4 * WIDTH + k], numbers[5 * WIDTH + k], numbers[6 * WIDTH + k] = direction
    numbers[8 * WIDTH + k] = far
    whole[17 * WIDTH + k] = whole[18 * WIDTH + k] = whole[19 * WIDTH + k] = -1
    packet.counted[k] = -1


@njit(inline="always")
def set_reach(packet, k, far):
    """How far the k-th ray looks [m]."""
    packet.numbers[8 * WIDTH + k] = far


@njit(inline="always")
def ray_of(packet, k):
    """Origin, direction and distance of the k-th ray."""
    n = packet.numbers
    return (
        (n[k], n[WIDTH + k], n[2 * WIDTH + k]),
        (n[4 * WIDTH + k], n[5 * WIDTH + k], n[6 * WIDTH + k]),
        n[8 * WIDTH + k],
    )


@njit(inline="always")
def cast_occluded(scene, packet):
    """Ask whether anything is in the way of a packet's rays: see :func:`is_clear`."""
    _occluded(packet.counted.ctypes.data, scene[0], packet.numbers.ctypes.data, scene[1])


@njit(inline="always")
def cast_nearest(scene, packet):
    """Ask what a packet's rays meet first: see :func:`hit_of`."""
    _intersect(packet.counted.ctypes.data, scene[0], packet.numbers.ctypes.data, scene[1])


@njit(inline="always")
def hit_of(packet, k):
    """Triangle (-1 for none), place in it (2) and distance [m] that the k-th ray met."""
    n = packet.numbers
    return packet.whole[17 * WIDTH + k], n[15 * WIDTH + k], n[16 * WIDTH + k], n[8 * WIDTH + k]


@njit(inline="always")
def is_clear(packet, k):
    """Whether the k-th ray met nothing; one that did is as long as minus infinity, which fast sums
    must not be asked about.
    """
    return packet.whole[8 * WIDTH + k] >= 0
