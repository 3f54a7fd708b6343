"""For every fault of the judged set: how many ways mend it, how long that takes, what it costs; and
with --full whether each way does at full size what was told of it.

python -m bench.judged.mends [--kind KIND] [--seeds 0-3] [--full]
"""

import argparse
import time
from collections import Counter
from dataclasses import replace

import numpy as np

from moth.judging import SIZE, coarse_layer, picture_of, read_picture, whole_layers
from moth.solving import changed, proposals, tried
from moth.solving.trying import RANKS
from moth.transport import render_layer, sources, view_of
from moth.world import build_world

from .__main__ import KINDS, seeds
from .cases import cases

ENOUGH = 3
FINER = 5
"""Pixels of a frame of 960 x 540 to one of those that are read, each way: finer than the desk's own
look at what it offers.
"""
STOPS = 1 / 3
WITHIN = {
    **dict.fromkeys(("pulls", "shadow", "skin", "clothes", "lamps"), STOPS),
    # Differences of colour (CIE 1976), of which about two are a third of a stop in deep shade.
    **dict.fromkeys(("outline", "hair"), 2.0),
}
"""How far a reading's figure may be off, by kind; of the others the word alone is held to."""


def ways(setup, reading):
    """Ways that mend a reading, until there are enough: (words, set-up, what was told of it)."""
    found = []
    for proposal in proposals(setup, reading):
        made = changed(setup, proposal.patches)
        told = tried(setup, made, reading.key)
        if told.mends:
            told = tried(setup, made, reading.key, whole=True)
        if told.mends:
            found.append((proposal.words, made, told))
        if len(found) == ENOUGH:
            break
    return found


def at_full_size(setup):
    """Readings by key, and the picture, of a set-up rendered as the desk shows it: every pixel that
    is read is the mean of twenty-five.
    """
    world = build_world(setup)
    view = view_of(world, setup, setup.cameras[0], tuple(FINER * n for n in SIZE))
    layers = {}
    for source in sources(setup):
        fine = render_layer(world, view, source).surfaces
        surfaces = fine.reshape(SIZE[1], FINER, SIZE[0], FINER, 3).mean((1, 3))
        layers[source.id] = replace(coarse_layer(setup, source), surfaces=surfaces)
    picture = picture_of(setup, layers)
    return {r.key: r for r in read_picture(setup, picture) if not r.meant}, picture


def held(kind, key, way, before):
    """What of a way that was told holds at full size: whether it mends, whether its figures are as
    told, and which readings are worse of which nothing was said.

    before : readings by key and picture, as of :func:`at_full_size`.
    """
    _, made, told = way
    (was, old), (now, new) = before, at_full_size(made)
    small = {r.key: r for r in read_picture(made, picture_of(made, whole_layers(made)))}
    rank = lambda found, k: RANKS[found[k].verdict] if k in found else 0
    mends = rank(now, key) < rank(was, key)
    figure = True
    if told.skin is not None and old.signal("skin") and new.signal("skin"):
        figure = abs(np.log2(new.signal("skin") / old.signal("skin")) - told.skin) <= STOPS
    if kind in WITHIN and key in now and key in small:
        figure &= abs(now[key].figure - small[key].figure) <= WITHIN[kind]
    said = {t.name for t in told.worse}
    broken = [k for k in now if k != key and rank(now, k) > rank(was, k)]
    return mends, bool(figure), [k for k in broken if now[k].name not in said]


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kind", choices=KINDS, help="only the faults of one kind")
    parser.add_argument("--seeds", type=seeds, default=(), help="stages drawn, for the chosen")
    parser.add_argument("--full", action="store_true", help="render each way at full size")
    options = parser.parse_args()
    print(f"{'kind':10} {'mended':>9} {'without cost':>13} {'seconds':>8}", end="")
    print(f" {'mends':>9} {'figure':>9} {'unsaid':>7}" if options.full else "")
    every: Counter = Counter()
    for kind in [options.kind] if options.kind else KINDS:
        count: Counter = Counter()
        times = []
        for case in cases(options.seeds):
            if case.kind != kind or not case.fault:
                continue
            found = read_picture(case.setup, picture_of(case.setup))
            bad = [r for r in found if KINDS[kind](r.key) and r.verdict != "well"]
            if not bad:
                continue
            start = time.perf_counter()
            some = ways(case.setup, bad[0])
            times.append(time.perf_counter() - start)
            count["mended"] += bool(some)
            count["free"] += any(not told.worse for _, _, told in some)
            if options.full and some:
                _hold(case, kind, bad[0].key, some, count)
        if times:
            mended = f"{count['mended']:>3} of {len(times):<2}"
            print(f"{kind:10} {mended} {count['free']:>13} {np.median(times):>8.1f}", end="")
            print(f" {_of(count, 'mends')} {_of(count, 'figure')} {count['unsaid']:>7}", flush=True)
            every += count
    if options.full:
        print(f"in all{'':37} {_of(every, 'mends')} {_of(every, 'figure')} {every['unsaid']:>7}")


def _hold(case, kind, key, some, count):
    before = at_full_size(case.setup)
    for way in some:
        mends, figure, unsaid = held(kind, key, way, before)
        count["offered"] += 1
        count["mends"] += mends
        count["figure"] += figure
        count["unsaid"] += bool(unsaid)
        if not (mends and figure) or unsaid:
            print(f"  {case.name}: {way[0]}: mends {mends}, figure {figure}, unsaid {unsaid}")


def _of(count, what):
    return f"{count[what]:>3} of {count['offered']:<3}"


if __name__ == "__main__":
    main()
