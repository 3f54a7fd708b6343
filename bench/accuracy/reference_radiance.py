"""Work out a rig's readings with Radiance: reference_radiance.py IN.npz OUT.npz. Runs in the
references' own environment (pyradiance).
"""

import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import pyradiance

BIN = Path(pyradiance.__file__).parent / "bin"
LIB = Path(pyradiance.__file__).parent / "lib"
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
BALL = 3
"""Kind of a lit face that is a ball: moth.transport.kernels."""

# Both vectors point away from the cloth: light from i leaves toward o, through about -i, back about
# its mirror image.
CLOTH = """
lobe(k,c) = k/(2*PI*(1-exp(-2*k)))*exp(k*(c-1));
most(a,b) = if(a-b, a, b);
size(a) = if(a, a, -a);
spread(ix,iy,iz,ox,oy,oz) = if(-iz*oz,
  {forward}*lobe({forward_kappa}, -(ix*ox+iy*oy+iz*oz)),
  {back}*lobe({back_kappa}, iz*oz-ix*ox-iy*oy)) / most(size(oz), 0.02);
"""
WRAPPER = """<?xml version="1.0" encoding="UTF-8"?>
<WindowElement><WindowElementType>System</WindowElementType><FileType>BSDF</FileType><Optical><Layer>
<Material><Name>cloth</Name><Manufacturer>none</Manufacturer><DeviceType>Other</DeviceType>
<Thickness unit="Meter">0.000</Thickness>
<Width unit="Meter">0</Width><Height unit="Meter">0</Height></Material>
<DataDefinition><IncidentDataStructure>TensorTree3</IncidentDataStructure></DataDefinition>
<!-- insert WavelengthData -->
</Layer></Optical></WindowElement>
"""
SPOT = """
off = Acos((-Dx*A1-Dy*A2-Dz*A3))*180/PI;
Acos(c) = if(c-1, 0, acos(c));
spot = if(A4-off, 1, if(A5-off, (A5-off)/(A5-A4), 0));
"""


def kappa(width):
    return np.log(2) / (1 - np.cos(np.radians(width) / 2))


def polygon(modifier, name, corners):
    return (
        f"{modifier} polygon {name}\n0\n0\n{3 * len(corners)} "
        + " ".join(f"{c:.7g}" for c in np.ravel(corners))
        + "\n\n"
    )


def plastic(name, rgb):
    return f"void plastic {name}\n0\n0\n5 {rgb[0]:.6g} {rgb[1]:.6g} {rgb[2]:.6g} 0 0\n\n"


def quad(corner, a, b):
    return np.array([corner, corner + a, corner + a + b, corner + b])


def cloth(folder, k, shares, up):
    """A cloth with lobes: their tensor tree worked out by Radiance's own tool, diffuse shares
    beside it, the straight share by mixing with nothing.
    """
    reflectance, _, lobe, lobe_width, straight, forward, forward_width, through = shares[:8]
    d, t = reflectance * shares[8:11] / (1 - straight), through * shares[8:11] / (1 - straight)
    (folder / "minimalBSDFt.xml").write_text(WRAPPER)
    (folder / f"cloth{k}.cal").write_text(
        CLOTH.format(
            forward=forward / (1 - straight),
            forward_kappa=kappa(forward_width),
            back=lobe / (1 - straight),
            back_kappa=kappa(lobe_width),
        )
    )
    if forward + lobe > 0:
        # Narrow lobes need finer steps: 2.8 or 1.4 degrees.
        narrow = min(w for w, share in ((forward_width, forward), (lobe_width, lobe)) if share > 0)
        with open(folder / f"cloth{k}.xml", "wb") as made:
            subprocess.run(
                [
                    BIN / "bsdf2ttree",
                    "-t3",
                    "-g",
                    "7" if narrow < 25 else "6",
                    "+f",
                    "+b",
                    "-f",
                    folder / f"cloth{k}.cal",
                    "spread",
                ],
                check=True,
                stdout=made,
                stderr=subprocess.DEVNULL,
                cwd=folder,
                env={"RAYPATH": f".:{LIB}", "PATH": f"{BIN}:/usr/bin:/bin"},
            )
        made = (
            f"BSDF lobes{k}\n6 0 {folder}/cloth{k}.xml "
            + " ".join(f"{v:.6g}" for v in up)
            + " .\n0\n9 "
        )
        made += " ".join(f"{v:.6g}" for v in (*d, *d, *t)) + "\n\n"
    else:
        # trans: of what is not mirrored a part goes through, all of it diffuse.
        made = (
            f"trans lobes{k}\n0\n0\n7 "
            + " ".join(f"{v:.6g}" for v in d + t)
            + f" 0 0 {through / max(through + reflectance, 1e-9):.6g} 0\n\n"
        )
    return f"void {made}void mixfunc sheet{k}\n4 void lobes{k} A1 .\n0\n1 {straight:.6g}\n\n"


def scene(rig, folder):
    out = []
    for k, (wall, albedo) in enumerate(zip(rig["walls"], rig["wall_albedo"])):
        out += [
            plastic(f"wall{k}", albedo),
            polygon(f"wall{k}", f"w{k}", quad(wall[:3], wall[3:6], wall[6:9])),
        ]
    # People and furniture: the colours of their triangles, to a few dozen paints.
    paint = np.round(rig["albedo"][rig["faces"]].mean(1) * 12) / 12
    for k, colour in enumerate(np.unique(paint, axis=0)):
        mine = (paint == colour).all(1)
        mean = rig["albedo"][rig["faces"][mine]].mean((0, 1))
        out.append(plastic(f"paint{k}", mean))
        out += [
            polygon(f"paint{k}", f"b{k}-{n}", rig["vertices"][face])
            for n, face in enumerate(rig["faces"][mine])
        ]
    (folder / "spot.cal").write_text(SPOT)
    for k, (s, m) in enumerate(zip(rig["sheets"], rig["shares"])):
        c, r, u = s[:3], s[3:6] * s[12], s[6:9] * s[13]
        reflectance, mirror, lobe, lobe_width, straight, forward, forward_width, through = m[:8]
        hue = m[8:11]
        corners = quad(c - r - u, 2 * r, 2 * u)
        if mirror > 0.5:
            # A mirror's virtual lamps stand behind its front only: the lamp's side is the front.
            corners = corners if np.cross(r, u) @ (rig["lamps"][0][1:4] - c) > 0 else corners[::-1]
            out.append(f"void mirror sheet{k}\n0\n0\n3 {mirror:.6g} {mirror:.6g} {mirror:.6g}\n\n")
        elif mirror + lobe + straight + forward + through == 0:
            out.append(plastic(f"sheet{k}", np.minimum(reflectance * hue, 0.95)))
        else:
            out.append(cloth(folder, k, m, s[6:9]))
        out.append(polygon(f"sheet{k}", f"s{k}", corners))
    for k, (f, peak, crate) in enumerate(zip(rig["lamps"], rig["peak"], rig["crate"])):
        centre, right, up, forward = f[1:4], f[4:7] * f[13], f[7:10] * f[14], f[10:13]
        if f[0] == 0:
            table = rig["tables"][k]
            angle = np.degrees(2 * np.arcsin(np.linspace(0, 1, len(table))))
            beam, cutoff = (
                round(angle[np.flatnonzero(table > 0.999 * peak)[-1]]),
                round(angle[np.flatnonzero(table > 0)[-1]]),
            )
            radius = 0.004
            level = peak / (np.pi * radius**2)
            out.append(
                f"void brightfunc spread{k}\n2 spot {folder}/spot.cal\n0\n5 {forward[0]:.7g}"
                f" {forward[1]:.7g} {forward[2]:.7g} {beam} {cutoff}\n\n"
            )
            out.append(
                f"spread{k} light lamp{k}\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\nlamp{k}"
                f" sphere l{k}\n0\n0\n4 {centre[0]:.7g} {centre[1]:.7g} {centre[2]:.7g}"
                f" {radius}\n\n"
            )
            continue
        if f[0] == BALL:
            # The same every way: its intensity over the disc that it shows.
            level = peak / (np.pi * f[13] ** 2)
            out.append(
                f"void illum lamp{k}\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\nlamp{k}"
                f" sphere l{k}\n0\n0\n4 {centre[0]:.7g} {centre[1]:.7g} {centre[2]:.7g}"
                f" {f[13]:.7g}\n\n"
            )
            continue
        level = peak / (4 * f[13] * f[14]) * (0.92 if crate else 1)
        corners = quad(centre - right - up, 2 * right, 2 * up)
        corners = corners if np.cross(right, up) @ forward > 0 else corners[::-1]
        # "illum" sends light and is not met by other rays: a unit's body stands in nobody's way at
        # the desk either.
        out.append(
            f"void illum lamp{k}\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\n"
            + polygon(f"lamp{k}", f"l{k}", corners)
            + plastic(f"back{k}", (0, 0, 0))
        )
        if crate:
            cells = 20
            pitch = 2 * f[13] / cells
            deep = pitch / np.tan(np.radians(crate))
            n = 0
            for across, along in ((right, up), (up, right)):
                for i in range(cells + 1):
                    out.append(
                        polygon(
                            f"back{k}",
                            f"fin{k}-{n}",
                            quad(
                                centre + (2 * i / cells - 1) * across - along + 1e-5 * forward,
                                2 * along,
                                deep * forward,
                            ),
                        )
                    )
                    n += 1
    if rig["sky"][0] > 0:
        level, zenith = rig["sky"]
        (folder / "sky.cal").write_text(
            f"sky = if(Dz, {zenith:.7g}*(1+2*Dz)/3, {0.2 * level / np.pi:.7g});\n"
        )
        out.append(
            f"void brightfunc skyf\n2 sky {folder}/sky.cal\n0\n0\n\nskyf glow skyg\n0\n0\n4 1 1 1"
            " 0\n\n"
        )
        out += [
            f"skyg source {name}\n0\n0\n4 0 0 {z} 180\n\n"
            for name, z in (("above", 1), ("below", -1))
        ]
    if len(rig["sun"]):
        d = rig["sun"]
        level = d[3] / (np.pi * np.tan(np.radians(0.2665)) ** 2)
        out.append(
            f"void light sunl\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\nsunl source"
            f" sun\n0\n0\n4 {d[0]:.7g} {d[1]:.7g} {d[2]:.7g} 0.533\n\n"
        )
    (folder / "scene.rad").write_text("".join(out))
    with open(folder / "scene.oct", "wb") as octree:
        subprocess.run(
            [BIN / "oconv", folder / "scene.rad"],
            check=True,
            stdout=octree,
            stderr=subprocess.DEVNULL,
            env={"RAYPATH": f".:{LIB}"},
        )


def main():
    rig = dict(np.load(sys.argv[1]))
    start = time.time()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        scene(rig, folder)
        # Plain Monte Carlo, no cache: the first bounce in `spread` ways, later ones thinned by
        # roulette, the whole `times` over.
        spread, times = 1024, int(sys.argv[3]) if len(sys.argv) > 3 else 400
        rays = "".join(
            (" ".join(f"{v:.7g}" for v in (*m[:3], *(m[3:6] / np.linalg.norm(m[3:6])))) + "\n")
            * times
            for m in rig["marks"]
        )
        # -ds 0.02: area lamps in parts a fiftieth of their distance; nothing is left to a
        # threshold.
        command = [
            BIN / "rtrace",
            "-h",
            "-fad",
            "-I",
            "-u+",
            "-ab",
            "200",
            "-ad",
            str(spread),
            "-as",
            "0",
            "-aa",
            "0",
            "-lw",
            "1e-5",
            "-lr",
            "-200",
            "-ds",
            "0.02",
            "-dj",
            "0.5",
            "-dt",
            "0",
            "-dc",
            "1",
            "-dr",
            "2",
            "-st",
            "0",
            "-ss",
            "1",
            folder / "scene.oct",
        ]
        done = subprocess.run(
            command, input=rays.encode(), capture_output=True, env={"RAYPATH": f".:{LIB}"}
        )
        if done.returncode:
            sys.exit(done.stderr.decode())
    each = np.frombuffer(done.stdout, np.float64).reshape(len(rig["marks"]), times, 3)
    disc, error = each.mean(1), (each @ LUMINANCE).std(1) / times**0.5
    np.savez_compressed(sys.argv[2], disc=disc)
    print(
        f"{sys.argv[1]}: {time.time() - start:.0f} s",
        [round(float(v), 2) for v in disc @ LUMINANCE],
        "+-",
        [round(float(v), 2) for v in error],
        flush=True,
    )


if __name__ == "__main__":
    main()
