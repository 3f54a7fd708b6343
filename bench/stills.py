"""Stills with known truth, read by what reads any still.

Run as ``python -m bench.stills [--count 60] [--first 0]``: a table, and how many are within what is
asked.
"""

import argparse
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from moth.errors import MothError
from moth.stills.framing import find_camera
from moth.stills.lights import ROUGH, read_lights
from moth.stills.opening import open_still
from moth.stills.reading import read_pair
from moth.tests.known_stills import drawn


def found_of(still):
    """What reading a still finds, as the truth has it; None where nothing is claimed."""
    opened = open_still(still.file)
    size = opened.code.shape[1::-1]
    framing = find_camera(still.marks, still.record, size)
    key = read_lights(opened.code, still.record, still.marks, framing)[0]
    lit, shade = still.marks.sources[0].lit, still.marks.shade
    pair = read_pair(opened.code, still.record, lit, shade) if lit and shade else None
    direction = key.angle is not None and key.height.off <= ROUGH
    return {
        "angle": key.angle.value if direction else None,
        "height": key.height.value if direction else None,
        "sure": key.sure,
        "softness": key.softness.value if key.softness else None,
        "ratio": pair.stops if pair else None,
        "kelvin": key.kelvin.value if key.kelvin else None,
        "focal": framing.focal_length.value,
        "distance": framing.distance.value,
        "camera sure": framing.sure,
        "by": ", ".join(key.told_by),
        "doubts": key.doubts,
    }


ASKED = {
    "direction": "within 10°",
    "ratio": "within 1/4 stop",
    "softness": "within 30 %",
    "white": "within 200 K or 15 mired",
    "lens": "within 10 %",
    "distance": "within 10 %",
}


def judged(truth, found):
    """What is asked for -> whether it holds; None where nothing is claimed."""
    out = {}
    if found["angle"] is None:
        out["direction"] = None
    else:
        out["direction"] = apart(truth, found) <= 10
    unclear = truth["ratio"] is None or found["ratio"] is None
    out["ratio"] = None if unclear else abs(found["ratio"] - truth["ratio"]) <= 0.25
    out["softness"] = (
        None if found["softness"] is None
        else abs(found["softness"] / max(truth["softness"], 1e-3) - 1) <= 0.3
    )  # fmt: skip
    if found["kelvin"] is None or not truth["neutral"]:
        out["white"] = None
    else:
        a, b = truth["kelvin"], found["kelvin"]
        out["white"] = abs(a - b) <= 200 or abs(1e6 / a - 1e6 / b) <= 15
    out["lens"] = abs(found["focal"] / truth["focal"] - 1) <= 0.1
    out["distance"] = abs(found["distance"] / truth["distance"] - 1) <= 0.1
    return out


def apart(truth, found):
    """Angle between the light's true direction and the one found [deg]."""
    ways = []
    for at in (truth, found):
        t, h = np.radians([at["angle"], at["height"]])
        ways.append([np.cos(h) * np.sin(t), np.cos(h) * np.cos(t), np.sin(h)])
    return float(np.degrees(np.arccos(np.clip(np.dot(*ways), -1, 1))))


def _one(seed):
    try:
        still = drawn(seed)
        return seed, still.truth, found_of(still), still.record.curve
    except MothError as error:
        return seed, None, str(error), None


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument("--first", type=int, default=0)
    asked = parser.parse_args()
    held: dict = {name: [] for name in ASKED}
    sure = {"direction": [], "camera": []}
    with ProcessPoolExecutor(2) as pool:
        for seed, truth, found, curve in pool.map(
            _one, range(asked.first, asked.first + asked.count)
        ):
            if truth is None:
                print(f"{seed:4d} refused: {found}", flush=True)
                held["lens"].append(False)
                continue
            got = judged(truth, found)
            for name, well in got.items():
                # A grade that nobody knows claims no ratio to a quarter of a stop.
                if well is not None and not (curve == "unknown" and name in ("ratio", "white")):
                    held[name].append(well)
            if found["sure"]:
                sure["direction"].append(got["direction"])
            if found["camera sure"]:
                sure["camera"].append(got["lens"] and got["distance"])
            print(_row(seed, curve, truth, found, got), flush=True)
    print()
    for name, wells in held.items():
        share = f"{sum(wells)} of {len(wells)}" if wells else "none claimed"
        print(f"{name:10s} {ASKED[name]:26s} {share}")
    for name, wells in sure.items():
        print(f"said to be sure, {name}: {sum(wells)} of {len(wells)} right")


def _row(seed, curve, truth, found, got):
    wrong = ",".join(k for k, v in got.items() if v is False)
    away = "-" if found["angle"] is None else f"{apart(truth, found):4.1f}°"
    soft = "-" if found["softness"] is None else f"{found['softness']:.1f}"
    ratio = "-" if got["ratio"] is None else f"{found['ratio'] - truth['ratio']:+.2f}"
    white = "-" if found["kelvin"] is None else f"{found['kelvin']:.0f}"
    return (
        f"{seed:4d} {curve:8s} key {away:6s} ({found['by']:12s})"
        f" soft {soft}/{truth['softness']:.1f}"
        f" ratio {ratio} white {white}/{truth['kelvin']:.0f}"
        f" lens {found['focal'] / truth['focal']:.3f}"
        f" far {found['distance'] / truth['distance']:.3f}"
        f" {'sure' if found['sure'] else '    '} {wrong} {'; '.join(found['doubts'])}"
    )


if __name__ == "__main__":
    main()
