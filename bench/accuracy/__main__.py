"""Compare with the committed references: python -m bench.accuracy. Make them anew:
script/references.
"""

import argparse
from pathlib import Path

import numpy as np

from moth.colour import LUMINANCE

from .compare import FOLDER, errors_of, ours, rmse_within
from .rigs import rigs

GOAL = 3.0
"""Percent."""


def rows():
    """(name, errors of disc and dome readings against Mitsuba [%], of disc readings against
    Radiance [%], frame RMSE and what it is at most [%]) of each rig; None for what has no
    reference.
    """
    for k, (name, document) in enumerate(rigs().items()):
        reference = np.load(FOLDER / f"{k:02d}.npz")
        pictured = "picture" in reference
        disc, dome, frame = ours(document, picture=pictured)

        def against(mine, theirs, name=name, document=document):
            if name.startswith("drawn"):
                return errors_of(document, mine, theirs)
            mine, theirs = mine @ LUMINANCE, np.maximum(theirs @ LUMINANCE, 1e-6)
            return 100 * (mine / theirs - 1)

        radiance = against(disc, reference["radiance"]) if "radiance" in reference else None
        error = None
        if pictured:
            halves = reference["picture"].astype(float) * float(reference["scale"])
            error = [100 * e for e in rmse_within(frame, halves)]
        mitsuba = [
            against(mine, reference[part]) for mine, part in ((disc, "disc"), (dome, "dome"))
        ]
        yield name, *mitsuba, radiance, error


def _clear(error, most):
    """Whether a frame's error stands out of the reference's grain."""
    return most < 1.5 * error


def _told(error, most):
    return f"{error:.1f} %" if _clear(error, most) else f"under {most:.1f} %"


def _worst(errors):
    return float(errors[np.argmax(np.abs(errors))])


def main():
    argparse.ArgumentParser(
        prog="python -m bench.accuracy",
        description=(
            "Compare every rig with its references; prints the table and writes it into"
            " docs/accuracy.md."
        ),
    ).parse_args()
    found = sorted(rows(), key=lambda r: -np.abs(np.concatenate(r[1:3])).max())
    lines = [
        "| rig | worst disc, Mitsuba | worst dome, Mitsuba | worst disc, Radiance | frame RMSE |",
        "|---|---|---|---|---|",
    ]
    for name, disc, dome, radiance, frame in found:
        told = "none" if radiance is None else f"{_worst(radiance):+.1f} %"
        seen = "none" if frame is None else _told(*frame)
        lines.append(
            f"| {name} | {_worst(disc):+.1f} % | {_worst(dome):+.1f} % | {told} | {seen} |"
        )
    for title, own in (
        ("chosen", [r for r in found if not r[0].startswith("drawn")]),
        ("drawn at random", [r for r in found if r[0].startswith("drawn")]),
    ):
        every = np.abs(np.concatenate([np.concatenate(r[1:3]) for r in own]))
        met = sum(np.abs(np.concatenate(r[1:3])).max() <= GOAL for r in own)
        frames = [r[4][0] if _clear(*r[4]) else r[4][1] for r in own if r[4] is not None]
        lines += [
            "",
            f"Of {len(own)} rigs {title}, {met} have every incident reading within {GOAL:g} % of"
            f" Mitsuba, and {sum(f <= GOAL for f in frames)} of {len(frames)} their frame; of"
            f" {len(every)} readings {(every <= GOAL).mean():.0%} are within {GOAL:g} %,"
            f" {(every <= GOAL / 2).mean():.0%} within {GOAL / 2:g} %, the worst is off by"
            f" {every.max():.1f} %.",
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
