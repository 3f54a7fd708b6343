"""Read every judged set-up and print, a kind of reading, how often what was put in was found.

python -m bench.judged [--seeds 0-11] [--kind KIND] [--all]
"""

import argparse
from collections import Counter

from moth.judging import picture_of, read_picture

from .cases import cases

KINDS = {
    "outline": lambda key: "shoulder" in key or "arm" in key,
    "pattern": lambda key: key.endswith("pattern"),
    "eyes": lambda key: key.startswith("eyes") and " glass " not in key,
    "sockets": lambda key: key.endswith("sockets"),
    "hair": lambda key: " hair " in key,
    "shadow": lambda key: key.startswith("backdrop shadow"),
    "pulls": lambda key: key.startswith("backdrop pulls"),
    "lines": lambda key: key.startswith("backdrop line"),
    "frame": lambda key: key.startswith("frame"),
    "mirrored": lambda key: key.startswith("mirrored"),
    "skin": lambda key: key.endswith("lit"),
    "clothes": lambda key: key.endswith("clothes"),
    "whites": lambda key: key.startswith("whites") and not key.endswith("apart"),
    "apart": lambda key: key.endswith("apart"),
    "lamps": lambda key: key.startswith("lamps"),
    "sound": lambda key: key.startswith("sound"),
    "reasons": lambda key: key == "reasons key",
    "glasses": lambda key: " glass " in key,
}
"""Kind of case -> which readings it is about."""


def found_in(case):
    """Words of the readings that a case is about, the worst first."""
    readings = read_picture(case.setup, picture_of(case.setup))
    words = [r.word for r in readings if KINDS[case.kind](r.key)]
    # A fault that is only told where it is found: nothing told is told.
    return words or [""]


def is_right(case, words):
    """Whether what was put in was found, and nothing where nothing was put in.

    An outline is gone when one stretch of shoulder or arm is; eyes have a glint when one has.
    """
    if case.kind in ("outline", "hair"):
        return ("gone" in words) == ("gone" in case.wanted)
    if case.kind == "eyes":
        return ("no glint" in case.wanted) == all(w == "no glint" for w in words)
    if case.kind == "glasses" and not case.fault:
        return set(words) == case.wanted
    return bool(set(words) & case.wanted)


def seeds(text):
    first, _, last = text.partition("-")
    return range(int(first), int(last or first) + 1)


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kind", choices=KINDS, help="only the cases of one kind")
    parser.add_argument("--all", action="store_true", help="print every case, not only the wrong")
    parser.add_argument(
        "--seeds", type=seeds, default=(), help="stages drawn with seeds FROM-TO, for the chosen"
    )
    options = parser.parse_args()
    right: Counter = Counter()
    total: Counter = Counter()
    for case in cases(options.seeds):
        if options.kind and case.kind != options.kind:
            continue
        words = found_in(case)
        well = is_right(case, words)
        group = (case.kind, case.fault)
        total[group] += 1
        right[group] += well
        if options.all or not well:
            mark = "right" if well else "WRONG"
            print(
                f"{mark}  {case.kind:8} {case.name}: {case.how}; read {', '.join(words)}",
                flush=True,
            )
    print(f"{'kind':10} {'faults found':>14} {'clean and left so':>18}")
    for kind in KINDS:
        row = []
        for fault in (True, False):
            n = total[kind, fault]
            row.append(f"{right[kind, fault]} of {n}" if n else "-")
        print(f"{kind:10} {row[0]:>14} {row[1]:>18}")
    print(f"right: {sum(right.values())} of {sum(total.values())}")


if __name__ == "__main__":
    main()
