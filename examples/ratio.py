"""Set a key-to-fill ratio by the fill's dimmer, and prove it by metering again."""

import moth

AT = {"aim": [2, 2, 1.5], "head": "panel-2x1"}
KEY = {"id": "key", "name": "Key", "role": "key", "position": [3.4, 3.6, 2.2], **AT}
FILL = {"id": "fill", "name": "Fill", "role": "fill", "position": [0.8, 4.2, 1.6], **AT}


def main():
    setup = moth.bare(units=[KEY, FILL])
    for wanted in (2, 4, 6):
        solved = moth.set_ratio(setup, "fill", wanted)
        metered = moth.read(solved.setup).ratios.combined
        print(f"asked {wanted}:1, metered {metered.ratio:.2f}:1. {solved.words}")


if __name__ == "__main__":
    main()
