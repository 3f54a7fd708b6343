"""Work out one rig with Mitsuba 3: reference_mitsuba.py IN.npz OUT.npz [samples]. Runs in the
references' own environment.
"""

import sys
import time

import drjit as dr
import mitsuba as mi
import numpy as np

mi.set_variant("llvm_ad_rgb")
from told_lamps import light_of_told, told_lamp  # noqa: E402 - needs the variant


class SheetBSDF(mi.BSDF):
    """Shares of docs/light-model.md: diffuse back and through, straight, mirrored, von Mises-Fisher
    lobes.
    """

    particles = False
    """Whether light is followed from the lamps on: the integrator's word for it does not reach a
    material written in Python.
    """

    def __init__(self, props):
        mi.BSDF.__init__(self, props)
        self.s = {
            k: float(props[k])
            for k in (
                "reflectance",
                "mirror",
                "lobe",
                "lobe_kappa",
                "straight",
                "forward",
                "forward_kappa",
                "through",
            )
        }
        self.hue = mi.Color3f(float(props["hue_r"]), float(props["hue_g"]), float(props["hue_b"]))
        smooth = mi.BSDFFlags.DiffuseReflection | mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide
        through = mi.BSDFFlags.DiffuseTransmission | mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide
        delta = mi.BSDFFlags.DeltaReflection | mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide
        null = mi.BSDFFlags.Null | mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide
        self.m_components = [smooth, through, delta, null]
        self.m_flags = smooth | through | delta | null

    def _lobe(self, kappa, c):
        return kappa / (2 * dr.pi * (1 - dr.exp(-2 * kappa))) * dr.exp(kappa * (c - 1))

    def _smooth(self, wi, wo):
        """f cos and pdf of all that is no delta. Light comes from wo and leaves to wi, or for
        particles the other way round.
        """
        s = self.s
        ci, co = mi.Frame3f.cos_theta(wi), mi.Frame3f.cos_theta(wo)
        same = ci * co > 0
        aco = dr.abs(co)
        diffuse = dr.select(same, s["reflectance"], s["through"]) * dr.inv_pi * aco
        # Light that comes in leaves about its own way through, about its mirror image back; f =
        # lobe / cos(leaving).
        straight_on = -dr.dot(wi, wo)
        mirrored = dr.dot(wi, mi.Vector3f(-wo.x, -wo.y, wo.z))
        lobe = dr.select(
            same,
            s["lobe"] * self._lobe(s["lobe_kappa"], mirrored),
            s["forward"] * self._lobe(s["forward_kappa"], straight_on),
        )
        value = (
            diffuse + (lobe if self.particles else lobe * aco / dr.maximum(dr.abs(ci), 1e-3))
        ) * self.hue
        total = (
            s["reflectance"] + s["through"] + s["lobe"] + s["forward"] + s["straight"] + s["mirror"]
        )
        pdf = (diffuse + lobe) / total
        return value, pdf

    def sample(self, ctx, si, sample1, sample2, active=True):
        s = self.s
        total = sum(
            s[k] for k in ("reflectance", "through", "lobe", "forward", "straight", "mirror")
        )
        x = sample1 * total
        a = s["reflectance"]
        b = a + s["through"]
        c = b + s["lobe"]
        d = c + s["forward"]
        e = d + s["straight"]
        wi = si.wi
        up = mi.Frame3f.cos_theta(wi) > 0
        cosine = mi.warp.square_to_cosine_hemisphere(sample2)
        cosine.z = dr.select(up == (x < a), cosine.z, -cosine.z)
        back = mi.Vector3f(-wi.x, -wi.y, wi.z)
        on = -wi

        def about(axis, kappa):
            v = mi.warp.square_to_von_mises_fisher(sample2, kappa)
            return mi.Frame3f(axis).to_world(v)

        wo = dr.select(
            x < b,
            cosine,
            dr.select(
                x < c,
                about(back, s["lobe_kappa"]),
                dr.select(x < d, about(on, s["forward_kappa"]), dr.select(x < e, on, back)),
            ),
        )
        is_delta = x >= d
        value, pdf = self._smooth(wi, wo)
        bs = mi.BSDFSample3f()
        bs.wo = wo
        bs.eta = 1.0
        bs.sampled_component = dr.select(
            is_delta,
            dr.select(x < e, mi.UInt32(3), mi.UInt32(2)),
            dr.select(x < a, mi.UInt32(0), mi.UInt32(1)),
        )
        bs.sampled_type = dr.select(
            is_delta,
            dr.select(
                x < e, mi.UInt32(+mi.BSDFFlags.Null), mi.UInt32(+mi.BSDFFlags.DeltaReflection)
            ),
            dr.select(
                x < a,
                mi.UInt32(+mi.BSDFFlags.DiffuseReflection),
                mi.UInt32(+mi.BSDFFlags.DiffuseTransmission),
            ),
        )
        bs.pdf = dr.select(is_delta, dr.select(x < e, s["straight"], s["mirror"]) / total, pdf)
        # A lobe drawn to its own side of the surface's back is lost, as on a real cloth at grazing
        # light.
        wrong = (
            (x >= b) & (x < c) & (mi.Frame3f.cos_theta(wo) * mi.Frame3f.cos_theta(wi) <= 0)
        ) | ((x >= c) & (x < d) & (mi.Frame3f.cos_theta(wo) * mi.Frame3f.cos_theta(wi) >= 0))
        ok = active & ~wrong & (bs.pdf > 0)
        weight = dr.select(is_delta, total * self.hue, value / dr.maximum(pdf, 1e-9))
        return bs, dr.select(ok, weight, 0)

    def eval(self, ctx, si, wo, active=True):
        return dr.select(active, self._smooth(si.wi, wo)[0], 0)

    def pdf(self, ctx, si, wo, active=True):
        return dr.select(active, self._smooth(si.wi, wo)[1], 0)

    def eval_pdf(self, ctx, si, wo, active=True):
        value, pdf = self._smooth(si.wi, wo)
        return dr.select(active, value, 0), dr.select(active, pdf, 0)

    def to_string(self):
        return "SheetBSDF[]"


mi.register_bsdf("moth_sheet", SheetBSDF)
kappa = lambda width: float(np.log(2) / (1 - np.cos(np.radians(width) / 2)))


def mesh(name, vertices, faces, bsdf, normals=None, colours=None):
    props = mi.Properties()
    props["bsdf"] = mi.load_dict(bsdf)
    m = mi.Mesh(
        name, len(vertices), len(faces), has_vertex_normals=normals is not None, props=props
    )
    if colours is not None:
        m.add_attribute("vertex_color", 3, np.ascontiguousarray(colours, np.float32).ravel())
    p = mi.traverse(m)
    p["vertex_positions"] = np.ascontiguousarray(vertices, np.float32).ravel()
    p["faces"] = np.ascontiguousarray(faces, np.uint32).ravel()
    if normals is not None:
        p["vertex_normals"] = np.ascontiguousarray(normals, np.float32).ravel()
    p.update()
    return m


def quad(name, corner, a, b, bsdf):
    return mesh(
        name,
        np.array([corner, corner + a, corner + a + b, corner + b]),
        np.array([[0, 1, 2], [0, 2, 3]]),
        bsdf,
    )


def matte(rgb):
    return {
        "type": "twosided",
        "bsdf": {
            "type": "diffuse",
            "reflectance": {"type": "rgb", "value": [float(c) for c in rgb]},
        },
    }


def build(rig, particles=False):
    scene = {"type": "scene"}
    for k, (wall, albedo) in enumerate(zip(rig["walls"], rig["wall_albedo"])):
        scene[f"wall{k}"] = quad(f"wall{k}", wall[:3], wall[3:6], wall[6:9], matte(albedo))
    used, faces = np.unique(rig["faces"], return_inverse=True)
    two = {
        "type": "twosided",
        "bsdf": {
            "type": "diffuse",
            "reflectance": {"type": "mesh_attribute", "name": "vertex_color"},
        },
    }
    scene["bodies"] = mesh(
        "bodies",
        rig["vertices"][used],
        faces.reshape(-1, 3),
        two,
        rig["normals"][used],
        rig["albedo"][used],
    )
    for k, (s, m) in enumerate(zip(rig["sheets"], rig["shares"])):
        c, r, u = s[:3], s[3:6] * s[12], s[6:9] * s[13]
        names = (
            "reflectance",
            "mirror",
            "lobe",
            "lobe_width",
            "straight",
            "forward",
            "forward_width",
            "through",
            "hue_r",
            "hue_g",
            "hue_b",
        )
        values = dict(zip(names, (float(v) for v in m)))
        values["lobe_kappa"], values["forward_kappa"] = (
            kappa(values.pop("lobe_width")),
            kappa(values.pop("forward_width")),
        )
        if (
            values["mirror"]
            + values["lobe"]
            + values["straight"]
            + values["forward"]
            + values["through"]
            == 0
        ):
            hue = np.array([values["hue_r"], values["hue_g"], values["hue_b"]])
            bsdf = matte(np.minimum(values["reflectance"] * hue, 0.95))
        else:
            bsdf = {"type": "moth_sheet", **values}
        scene[f"sheet{k}"] = quad(f"sheet{k}", c - r - u, 2 * r, 2 * u, bsdf)
    for k, (f, peak, crate) in enumerate(zip(rig["lamps"], rig["peak"], rig["crate"])):
        centre, right, up, forward = f[1:4], f[4:7] * f[13], f[7:10] * f[14], f[10:13]
        told = told_of(rig, k)
        if told:
            scene[f"lamp{k}"] = told_lamp(*told)
        elif f[0] == 0:
            table = rig["tables"][k]
            angle = np.degrees(2 * np.arcsin(np.linspace(0, 1, len(table))))
            beam, cutoff = (
                angle[np.flatnonzero(table > 0.999 * peak)[-1]],
                angle[np.flatnonzero(table > 0)[-1]],
            )
            # The table's own steps are a tenth of a degree: the rig's round numbers are meant.
            scene[f"lamp{k}"] = {
                "type": "spot",
                "intensity": {"type": "rgb", "value": [float(peak)] * 3},
                "beam_width": float(round(beam)),
                "cutoff_angle": float(round(cutoff)),
                "to_world": (
                    mi.ScalarTransform4f().look_at(
                        origin=centre.tolist(), target=(centre + forward).tolist(), up=[0, 0, 1]
                    )
                ),
            }
        elif f[0] == BALL:
            # A ball sends the same every way: its intensity over the disc that it shows.
            radiance = float(peak / (np.pi * f[13] ** 2))
            scene[f"lamp{k}"] = {
                "type": "sphere",
                "center": centre.tolist(),
                "radius": float(f[13]),
                "bsdf": {"type": "null"},
                "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [radiance] * 3}},
            }
        else:
            area = 4 * f[13] * f[14]
            factor = 0.92 if crate else 1.0
            to = mi.ScalarTransform4f(
                np.vstack(
                    [
                        np.stack(
                            [
                                right,
                                np.cross(forward, right / np.linalg.norm(right))
                                * np.linalg.norm(up),
                                forward,
                                centre,
                            ],
                            1,
                        ),
                        [0, 0, 0, 1],
                    ]
                )
            )
            scene[f"lamp{k}"] = {
                "type": "rectangle",
                "to_world": to,
                "bsdf": {
                    "type": "null"
                },  # A unit's body stands in nobody's way at the desk either.
                "emitter": {
                    "type": "area",
                    "radiance": {"type": "rgb", "value": [float(peak / area * factor)] * 3},
                    "sampling_weight": 0.0 if crate and not particles else 1.0,
                },
            }
            if crate and not particles:
                # Shadow rays stop a few millimetres short of the lamp and would leak past the fins:
                # rays must find it themselves.
                scene["nothing"] = {
                    "type": "point",
                    "position": [0.1, 0.1, 0.1],
                    "intensity": {"type": "rgb", "value": [0.0] * 3},
                }
            if crate:
                # The egg crate itself: black fins, twenty cells across, as deep as the cut-off
                # asks.
                cells = 20
                pitch = 2 * f[13] / cells
                deep = pitch / np.tan(np.radians(crate))
                n = 0
                for across, along in (
                    (f[4:7] * f[13], f[7:10] * f[14]),
                    (f[7:10] * f[14], f[4:7] * f[13]),
                ):
                    for i in range(cells + 1):
                        corner = centre + (2 * i / cells - 1) * across - along + 1e-4 * forward
                        scene[f"fin{k}-{n}"] = quad(
                            f"fin{k}-{n}", corner, 2 * along, deep * forward, matte((0, 0, 0))
                        )
                        n += 1
    if rig["sky"][0] > 0:
        height = 4096
        z = np.cos((np.arange(height) + 0.5) / height * np.pi)
        level, zenith = rig["sky"]
        values = np.where(z > 0, zenith * (1 + 2 * np.maximum(z, 0)) / 3, 0.2 * level / np.pi)
        image = np.repeat(np.repeat(values[:, None, None], 4, 1), 3, 2).astype(np.float32)
        turn = mi.ScalarTransform4f().rotate([1, 0, 0], 90)
        scene["sky"] = {"type": "envmap", "bitmap": mi.Bitmap(image), "to_world": turn}
    if len(rig["sun"]):
        # So far off that it comes the same way to all of a room, and to the land.
        far, half = 250_000.0, np.tan(np.radians(0.2665))
        place = np.array([2.5, 3.0, 1.0]) + far * rig["sun"][:3]
        to = mi.ScalarTransform4f().look_at(
            origin=place.tolist(), target=[2.5, 3.0, 1.0], up=[0, 0, 1]
        ) @ mi.ScalarTransform4f().scale([float(far * half)] * 3)
        scene["sun"] = {
            "type": "disk",
            "to_world": to,
            "emitter": {
                "type": "area",
                "radiance": {
                    "type": "rgb",
                    "value": [float(rig["sun"][3] / (np.pi * half**2))] * 3,
                },
            },
        }
    scene["integrator"] = {"type": "path", "max_depth": DEPTH, "rr_depth": 4}
    camera = rig["camera"]
    scene["sensor"] = {
        "type": "perspective",
        "fov": float(np.degrees(2 * np.arctan(camera[6]))),
        "fov_axis": "x",
        "to_world": (
            mi.ScalarTransform4f().look_at(
                origin=camera[:3].tolist(), target=camera[3:6].tolist(), up=[0, 0, 1]
            )
        ),
        "film": {
            "type": "hdrfilm",
            "width": int(rig["picture"][0]),
            "height": int(rig["picture"][1]),
            "rfilter": {"type": "box"},
            "pixel_format": "rgb",
        },
        "sampler": {"type": "independent"},
    }
    return mi.load_dict(scene)


def told_of(rig, k):
    """Frame, table and pattern of a lamp that is told by a table, or None."""
    if f"field{k}" not in rig:
        return None
    return rig["lamps"][k], rig[f"field{k}"], rig[f"pattern{k}"]


def receiver(scene, position, normal, samples, seed, rig):
    """Illuminance on a disc and on a dome: rays over the half sphere, and lamps that no ray can hit
    asked straight.
    """
    normal = normal / np.linalg.norm(normal)
    disc, dome = np.zeros(3), np.zeros(3)
    batch = min(samples, 1 << 20)
    rounds = max(1, samples // batch)
    # Few rays over the half sphere would hit a small lamp: those in sight are asked below instead.
    integrator = mi.load_dict(
        {
            "type": "path",
            "max_depth": DEPTH,
            "rr_depth": 4,
            "hide_emitters": len(rig["lamps"]) + len(rig["sun"]) > 0,
        }
    )
    for k in range(rounds):
        sampler = mi.load_dict({"type": "independent"})
        sampler.seed(seed * 1000 + k, batch)
        local = mi.warp.square_to_uniform_hemisphere(sampler.next_2d())
        d = mi.Frame3f(mi.Vector3f(*(float(c) for c in normal))).to_world(local)
        ray = mi.RayDifferential3f(mi.Ray3f(mi.Point3f(*(float(c) for c in position)), d))
        value, _, _ = integrator.sample(scene, sampler, ray)
        # Else each of the sums below would trace all rays again.
        dr.eval(value, local)
        for out, response in ((disc, local.z), (dome, 0.5 * (1 + local.z))):
            out += (
                np.array(
                    [
                        float(dr.mean(getattr(value, c) * response, axis=None)[0]) * 2 * np.pi
                        for c in "xyz"
                    ]
                )
                / rounds
            )
    answers = (
        (disc, lambda c: np.maximum(c, 0)),
        (dome, lambda c: np.where(c > 0, 0.5 * (1 + c), 0)),
    )
    for k, (f, table, crate) in enumerate(zip(rig["lamps"], rig["tables"], rig["crate"])):
        told = told_of(rig, k)
        if told:
            for out, response in answers:
                out += light_of_told(scene, position, normal, told, response)
            continue
        if f[0] != 0:
            for out, response in answers:
                shown = _from_ball if f[0] == BALL else _from_face
                out += shown(
                    scene, position, normal, f, table[0] * (0.92 if crate else 1), response
                )
            continue
        to = f[1:4] - position
        distance = np.linalg.norm(to)
        to = to / distance
        cosine = float(to @ normal)
        if cosine <= 0:
            continue
        ray = mi.Ray3f(
            mi.Point3f(*(float(c) for c in position)),
            mi.Vector3f(*(float(c) for c in to)),
            maxt=float(distance * 0.9999),
            time=0.0,
            wavelengths=[],
        )
        if scene.ray_test(ray)[0]:
            continue
        angle = np.degrees(np.arccos(np.clip(-to @ f[10:13], -1, 1)))
        candela = np.interp(np.sin(np.radians(angle) / 2), np.linspace(0, 1, len(table)), table)
        disc += candela / distance**2 * cosine
        dome += candela / distance**2 * 0.5 * (1 + cosine)
    if len(rig["sun"]):
        to = rig["sun"][:3]
        cosine = float(to @ normal)
        ray = mi.Ray3f(
            mi.Point3f(*(float(c) for c in position)),
            mi.Vector3f(*(float(c) for c in to)),
            maxt=2000.0,
            time=0.0,
            wavelengths=[],
        )
        if cosine > 0 and not scene.ray_test(ray)[0]:
            disc += rig["sun"][3] * cosine
            dome += rig["sun"][3] * 0.5 * (1 + cosine)
    return disc, dome


DEPTH = 400
"""Bounces at most: of light between walls of 0.95 a tenth is left after forty."""
BALL = 3
"""Kind of a lit face that is a ball, as bench/accuracy/export.py writes it."""


def _from_ball(scene, position, normal, f, peak, response, n=300):
    """Light of a ball in sight, the same every way, from n x n directions in the cone it fills."""
    to = f[1:4] - position
    far = np.linalg.norm(to)
    axis = to / far
    side = np.cross(axis, [0.0, 0.0, 1.0] if abs(axis[2]) < 0.9 else [1.0, 0.0, 0.0])
    side /= np.linalg.norm(side)
    k = (np.arange(n) + 0.5) / n
    turn, part = (m.reshape(-1, 1) for m in np.meshgrid(2 * np.pi * k, k))
    least = np.sqrt(1 - (f[13] / far) ** 2)
    cosine = 1 - part * (1 - least)
    sine = np.sqrt(1 - cosine**2)
    way = cosine * axis + sine * np.cos(turn) * side + sine * np.sin(turn) * np.cross(axis, side)
    ray = mi.Ray3f(
        mi.Point3f(*(float(c) for c in position)),
        mi.Vector3f(np.ascontiguousarray(way.T, np.float32)),
    )
    ray.maxt = mi.Float(np.full(n * n, far - f[13], np.float32))
    seen = ~np.array(scene.ray_test(ray))
    luminance, solid = peak / (np.pi * f[13] ** 2), 2 * np.pi * (1 - least)
    return float(luminance * solid * (response(way @ normal) * seen).mean())


def _from_face(scene, position, normal, f, peak, response, n=500):
    """Light of a Lambertian rectangle in sight, from n x n places of it."""
    k = (np.arange(n) + 0.5) / n * 2 - 1
    u, v = (m.reshape(-1, 1) for m in np.meshgrid(k, k))
    to = f[1:4] + u * f[13] * f[4:7] + v * f[14] * f[7:10] - position
    distance = np.linalg.norm(to, axis=1)
    to = to / distance[:, None]
    leaving = np.maximum(-to @ f[10:13], 0)
    ray = mi.Ray3f(
        mi.Point3f(*(float(c) for c in position)),
        mi.Vector3f(np.ascontiguousarray(to.T, np.float32)),
    )
    # To a fifth of a millimetre before the face: the fins of a crate begin there.
    ray.maxt = mi.Float((distance - 2e-4).astype(np.float32))
    seen = ~np.array(scene.ray_test(ray))
    return float((peak * leaving / distance**2 * response(to @ normal) * seen).mean())


def picture(scene, rig, samples, half):
    """One of two independent pictures: particles from the lamps where there are only lamps, paths
    from the camera for sky and sun.

    Particles find small lamps behind cloth, which paths from the camera seldom do; what stands in
    the picture behind
    straight-through cloth or in a mirror they cannot show, so paths do that part.
    """
    rounds = max(1, samples // 256)

    def mean(**integrator):
        SheetBSDF.particles = integrator["type"] == "ptracer"
        made = mi.load_dict({"max_depth": DEPTH, "rr_depth": 4, **integrator})
        total = 0
        for k in range(rounds):
            total = total + np.array(
                mi.render(scene, integrator=made, spp=256, seed=half * 1000 + k)
            )
        SheetBSDF.particles = False
        return total / rounds

    if rig["sky"][0] > 0 or len(rig["sun"]):
        rounds *= 4
        return mean(type="path")
    found = mean(type="ptracer")
    clear = _see_through(scene, rig)
    return np.where(clear[:, :, None], mean(type="path"), found) if clear.any() else found


def _see_through(scene, rig):
    """Pixels in which a cloth with a straight share or a mirror stands."""
    width, height = (int(k) for k in rig["picture"])
    found = np.zeros((height, width), bool)
    x, y = np.meshgrid(np.arange(8 * width), np.arange(8 * height))
    at = mi.Point2f(
        ((x.ravel() + 0.5) / (8 * width)).astype(np.float32),
        ((y.ravel() + 0.5) / (8 * height)).astype(np.float32),
    )
    ray, _ = scene.sensors()[0].sample_ray(0.0, 0.5, at, mi.Point2f(0.5, 0.5))
    hit = scene.ray_intersect(ray)
    place = np.array(hit.p).T
    for s, m in zip(rig["sheets"], rig["shares"]):
        if m[1] > 0 or m[4] > 0:
            off = place - s[:3]
            on = (
                (np.abs(off @ s[9:12]) < 1e-3)
                & (np.abs(off @ s[3:6]) < s[12] + 1e-3)
                & (np.abs(off @ s[6:9]) < s[13] + 1e-3)
            )
            found |= on.reshape(height, 8, width, 8).any((1, 3))
    return found


def main():
    rig = dict(np.load(sys.argv[1]))
    samples = int(sys.argv[3]) if len(sys.argv) > 3 else 1 << 24
    pixel_samples = int(sys.argv[4]) if len(sys.argv) > 4 else 2048
    start = time.time()
    scene = build(rig)
    readings = [
        receiver(scene, m[:3], m[3:6], samples, k + 1, rig) for k, m in enumerate(rig["marks"])
    ]
    middle = time.time()
    # Two halves with noise of their own: the product of our errors against both is free of either's
    # noise.
    scene = build(rig, particles=True)
    halves = [picture(scene, rig, pixel_samples, half) for half in range(2 if pixel_samples else 0)]
    np.savez_compressed(
        sys.argv[2],
        disc=np.array([r[0] for r in readings]),
        dome=np.array([r[1] for r in readings]),
        picture=np.array(halves).astype(np.float32),
    )
    print(
        f"{sys.argv[1]}: readings {middle - start:.0f} s, picture {time.time() - middle:.0f} s",
        [round(float(r[0] @ [0.2126, 0.7152, 0.0722]), 2) for r in readings],
        flush=True,
    )


if __name__ == "__main__":
    main()
