"""Work out a rig's readings with Radiance: reference_radiance.py IN.npz OUT.npz. Runs in the references' own environment (pyradiance)."""

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

# Light that comes from l leaves toward -D: through the cloth about -l, back about its mirror image; f = lobe / cos(leaving).
CLOTH = """
ln(x,y,z) = x*Nx + y*Ny + z*Nz;
dn = Nx*Dx + Ny*Dy + Nz*Dz;
ld(x,y,z) = x*Dx + y*Dy + z*Dz;
lobe(k,c) = k/(2*PI*(1-exp(-2*k)))*exp(k*(c-1));
f(x,y,z,o) = if(-ln(x,y,z)*dn, arg(10)*lobe(arg(11), ld(x,y,z)-2*ln(x,y,z)*dn), arg(12)*lobe(arg(13), ld(x,y,z))) / max(abs(dn), 0.02);
max(a,b) = if(a-b, a, b);
abs(a) = if(a, a, -a);
"""
SPOT = """
off = Acos((-Dx*A1-Dy*A2-Dz*A3))*180/PI;
Acos(c) = if(c-1, 0, acos(c));
spot = if(A4-off, 1, if(A5-off, (A5-off)/(A5-A4), 0));
"""


def kappa(width):
    return np.log(2) / (1 - np.cos(np.radians(width) / 2))


def polygon(modifier, name, corners):
    return f"{modifier} polygon {name}\n0\n0\n{3 * len(corners)} " + " ".join(f"{c:.7g}" for c in np.ravel(corners)) + "\n\n"


def plastic(name, rgb):
    return f"void plastic {name}\n0\n0\n5 {rgb[0]:.6g} {rgb[1]:.6g} {rgb[2]:.6g} 0 0\n\n"


def quad(corner, a, b):
    return np.array([corner, corner + a, corner + a + b, corner + b])


def scene(rig, folder):
    out = []
    for k, (wall, albedo) in enumerate(zip(rig["walls"], rig["wall_albedo"])):
        out += [plastic(f"wall{k}", albedo), polygon(f"wall{k}", f"w{k}", quad(wall[:3], wall[3:6], wall[6:9]))]
    # People and furniture: the colours of their triangles, to a few dozen paints.
    paint = np.round(rig["albedo"][rig["faces"]].mean(1) * 12) / 12
    for k, colour in enumerate(np.unique(paint, axis=0)):
        mine = (paint == colour).all(1)
        mean = rig["albedo"][rig["faces"][mine]].mean((0, 1))
        out.append(plastic(f"paint{k}", mean))
        out += [polygon(f"paint{k}", f"b{k}-{n}", rig["vertices"][face]) for n, face in enumerate(rig["faces"][mine])]
    (folder / "cloth.cal").write_text(CLOTH)
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
            d, t = reflectance * hue, through * hue
            out.append(f"void BRTDfunc sheet{k}\n10 0 0 0 {straight:.6g} {straight:.6g} {straight:.6g} f f f {folder}/cloth.cal\n0\n"
                       "13 " + " ".join(f"{v:.6g}" for v in (*d, *d, *t, lobe, kappa(lobe_width), forward, kappa(forward_width))) + "\n\n")
        out.append(polygon(f"sheet{k}", f"s{k}", corners))
    for k, (f, peak, crate) in enumerate(zip(rig["lamps"], rig["peak"], rig["crate"])):
        centre, right, up, forward = f[1:4], f[4:7] * f[13], f[7:10] * f[14], f[10:13]
        if f[0] == 0:
            table = rig["tables"][k]
            angle = np.degrees(2 * np.arcsin(np.linspace(0, 1, len(table))))
            beam, cutoff = round(angle[np.flatnonzero(table > 0.999 * peak)[-1]]), round(angle[np.flatnonzero(table > 0)[-1]])
            radius = 0.004
            level = peak / (np.pi * radius**2)
            out.append(f"void brightfunc spread{k}\n2 spot {folder}/spot.cal\n0\n5 {forward[0]:.7g} {forward[1]:.7g} {forward[2]:.7g} {beam} {cutoff}\n\n")
            out.append(f"spread{k} light lamp{k}\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\nlamp{k} sphere l{k}\n0\n0\n4 {centre[0]:.7g} {centre[1]:.7g} {centre[2]:.7g} {radius}\n\n")
            continue
        level = peak / (4 * f[13] * f[14]) * (0.92 if crate else 1)
        corners = quad(centre - right - up, 2 * right, 2 * up)
        corners = corners if np.cross(right, up) @ forward > 0 else corners[::-1]
        out.append(f"void light lamp{k}\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\n" + polygon(f"lamp{k}", f"l{k}", corners))
        out.append(plastic(f"back{k}", (0, 0, 0)) + polygon(f"back{k}", f"lb{k}", corners[::-1] - 1e-4 * forward))
        if crate:
            cells = 20
            pitch = 2 * f[13] / cells
            deep = pitch / np.tan(np.radians(crate))
            n = 0
            for across, along in ((right, up), (up, right)):
                for i in range(cells + 1):
                    out.append(polygon(f"back{k}", f"fin{k}-{n}", quad(centre + (2 * i / cells - 1) * across - along + 1e-5 * forward, 2 * along, deep * forward)))
                    n += 1
    if rig["sky"][0] > 0:
        level, zenith = rig["sky"]
        (folder / "sky.cal").write_text(f"sky = if(Dz, {zenith:.7g}*(1+2*Dz)/3, {0.2 * level / np.pi:.7g});\n")
        out.append(f"void brightfunc skyf\n2 sky {folder}/sky.cal\n0\n0\n\nskyf glow skyg\n0\n0\n4 1 1 1 0\n\n")
        out += [f"skyg source {name}\n0\n0\n4 0 0 {z} 180\n\n" for name, z in (("above", 1), ("below", -1))]
    if len(rig["sun"]):
        d = rig["sun"]
        level = d[3] / (np.pi * np.tan(np.radians(0.2665)) ** 2)
        out.append(f"void light sunl\n0\n0\n3 {level:.7g} {level:.7g} {level:.7g}\n\nsunl source sun\n0\n0\n4 {d[0]:.7g} {d[1]:.7g} {d[2]:.7g} 0.533\n\n")
    (folder / "scene.rad").write_text("".join(out))
    with open(folder / "scene.oct", "wb") as octree:
        subprocess.run([BIN / "oconv", folder / "scene.rad"], check=True, stdout=octree, stderr=subprocess.DEVNULL, env={"RAYPATH": f".:{LIB}"})


def main():
    rig = dict(np.load(sys.argv[1]))
    start = time.time()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        scene(rig, folder)
        rays = "".join(" ".join(f"{v:.7g}" for v in (*m[:3], *(m[3:6] / np.linalg.norm(m[3:6])))) + "\n" for m in rig["marks"])
        # Light from windows comes in by the ambient rays alone: those rigs are given more of them.
        dense = ["-ad", "4096", "-as", "1024"] if rig["sky"][0] > 0 or len(rig["sun"]) else ["-ad", "1024", "-as", "256"]
        # -ds 0.02: area lamps in parts a fiftieth of their distance; nothing is left to a threshold.
        command = [BIN / "rtrace", "-h", "-I", "-ab", "6", *dense, "-aa", "0.18", "-ar", "64", "-lw", "2e-4", "-lr", "12", "-ds", "0.02", "-dj", "0",
                   "-dt", "0", "-dc", "1", "-dr", "2", "-st", "0", "-ss", "0", folder / "scene.oct"]
        done = subprocess.run(command, input=rays, capture_output=True, text=True, env={"RAYPATH": f".:{LIB}"})
        if done.returncode:
            sys.exit(done.stderr)
    disc = np.array([[float(v) for v in line.split()[:3]] for line in done.stdout.strip().splitlines()])
    np.savez_compressed(sys.argv[2], disc=disc)
    print(f"{sys.argv[1]}: {time.time() - start:.0f} s", [round(float(v), 2) for v in disc @ LUMINANCE], flush=True)


if __name__ == "__main__":
    main()
