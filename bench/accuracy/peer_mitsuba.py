"""A path tracer with a denoiser: the peer of bench.speed. Runs in the references' environment.

    python peer_mitsuba.py RIG.npz OUT.npz SAMPLES,SAMPLES,...  REFERENCE_SAMPLES

Mitsuba's fastest variant here renders with albedo and normals, Open Image Denoise (filter RT, HDR)
takes the noise off. OUT holds each picture, two independent halves of a fine one, and the seconds
that rendering and denoising took.
"""

import ctypes
import sys
import time
from importlib.util import find_spec
from pathlib import Path

import mitsuba as mi
import numpy as np
import reference_mitsuba

# The wheel brings the denoiser's helper under a file name that the loader does not look for.
LIBRARIES = next(Path(find_spec("oidn").origin).parent.glob("lib.*"))
ctypes.CDLL(str(next(LIBRARIES.glob("libtbb.so.*"))), ctypes.RTLD_GLOBAL)

import oidn  # noqa: E402

LIBRARY = ctypes.CDLL(str(next(LIBRARIES.glob("libOpenImageDenoise.so.*"))))
LIBRARY.oidnSetFilter1b.argtypes = [ctypes.c_void_p, ctypes.c_char_p, ctypes.c_bool]


def denoised(picture, albedo, normal):
    """A linear HDR picture (height, width, 3) without its noise."""
    height, width, _ = picture.shape
    device = oidn.NewDevice(oidn.DEVICE_TYPE_CPU)
    oidn.CommitDevice(device)
    held = {
        name: np.ascontiguousarray(image, np.float32)
        for name, image in (("color", picture), ("albedo", albedo), ("normal", normal))
    }
    out = held["output"] = np.zeros((height, width, 3), np.float32)
    kernel = oidn.NewFilter(device, "RT")
    for name, image in held.items():
        oidn.SetSharedFilterImage(kernel, name, image, oidn.FORMAT_FLOAT3, width, height)
    LIBRARY.oidnSetFilter1b(kernel, b"hdr", True)
    oidn.CommitFilter(kernel)
    oidn.ExecuteFilter(kernel)
    oidn.ReleaseFilter(kernel)
    oidn.ReleaseDevice(device)
    return out


def main(rig_file, out_file, counts, fine):
    scene = reference_mitsuba.build(dict(np.load(rig_file)))
    path = {"type": "path", "max_depth": 40, "rr_depth": 4}
    both = mi.load_dict(
        {"type": "aov", "aovs": "albedo:albedo,normal:sh_normal", "integrator": path}
    )

    def rendered(samples, seed):
        start = time.perf_counter()
        image = np.array(mi.render(scene, integrator=both, spp=samples, seed=seed))
        colour, albedo, normal = image[..., :3], image[..., -6:-3], image[..., -3:]
        return denoised(colour, albedo, normal), time.perf_counter() - start

    rendered(2, 99)  # compiles
    found = {"counts": np.array(counts)}
    pictures, seconds = zip(*(rendered(n, k) for k, n in enumerate(counts)), strict=True)
    found |= {"pictures": np.array(pictures), "seconds": np.array(seconds)}
    found["halves"] = np.array(
        [np.array(mi.render(scene, spp=fine, seed=1000 + k))[..., :3] for k in range(2)]
    )
    np.savez(out_file, **found)


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2], [int(n) for n in sys.argv[3].split(",")], int(sys.argv[4]))
