"""Compare with the committed references: python -m bench.accuracy. Make them anew:
script/references.
"""

import argparse
from pathlib import Path

import numpy as np

from moth.colour import LUMINANCE

from .compare import FOLDER, ours, rmse
from .rigs import rigs

GOAL = 3.0
"""Percent."""


def rows():
    """(name, worst disc and dome reading against Mitsuba [%], worst disc against Radiance [%],
    frame RMSE [%]) of each rig.
    """
    for k, name in enumerate(rigs()):
        reference = np.load(FOLDER / f"{k:02d}.npz")
        disc, dome, frame = ours(name)
        lux = lambda rgb: np.asarray(rgb, float) @ LUMINANCE
        worst = lambda mine, theirs: (
            100
            * float(
                (lux(mine) / np.maximum(lux(theirs), 1e-6) - 1)[
                    np.argmax(np.abs(lux(mine) / np.maximum(lux(theirs), 1e-6) - 1))
                ]
            )
        )
        radiance = worst(disc, reference["radiance"]) if "radiance" in reference else None
        yield (
            name,
            worst(disc, reference["disc"]),
            worst(dome, reference["dome"]),
            radiance,
            100 * rmse(frame, reference["picture"].astype(float) * float(reference["scale"])),
        )


def main():
    argparse.ArgumentParser(
        prog="python -m bench.accuracy",
        description=(
            "Compare every rig with its references; prints the table and writes it into"
            " docs/accuracy.md."
        ),
    ).parse_args()
    found = sorted(rows(), key=lambda r: -max(abs(r[1]), abs(r[2])))
    lines = [
        "| rig | worst disc, Mitsuba | worst dome, Mitsuba | worst disc, Radiance | frame RMSE |",
        "|---|---|---|---|---|",
    ]
    for name, disc, dome, radiance, frame in found:
        told = "none" if radiance is None else f"{radiance:+.1f} %"
        lines.append(f"| {name} | {disc:+.1f} % | {dome:+.1f} % | {told} | {frame:.1f} % |")
    met = sum(max(abs(r[1]), abs(r[2])) <= GOAL for r in found)
    frames = sum(r[4] <= GOAL for r in found)
    lines += [
        "",
        (
            f"{met} of {len(found)} rigs have every incident reading within {GOAL:g} % of Mitsuba,"
            f" {frames} their frame."
        ),
    ]
    text = "\n".join(lines)
    print(text)
    page = Path(__file__).resolve().parents[2] / "docs" / "accuracy.md"
    if page.exists():
        before, _, after = page.read_text().partition("<!-- table -->")
        after = after.partition("<!-- end -->")[2]
        page.write_text(f"{before}<!-- table -->\n{text}\n<!-- end -->{after}")


if __name__ == "__main__":
    main()
