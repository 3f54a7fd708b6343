"""Print the table of figures: python -m bench (script/bench does the set-up first)."""

from bench import desk, rays

GOALS = {"dimmer": 33, "first": 250, "full": 1000, "readings": 30, "alone": 30, "behind": 30}
NAMES = {
    "dimmer": "dimmer change → painted frame",
    "first": "move one light → first frame",
    "full": "move one light → full frame, 640 × 360",
    "readings": "readings, dimmer changed",
    "alone": "readings, light moved, no picture asked for",
    "behind": "readings, light moved, behind the first frame",
}


def main():
    print("| what | measured | goal | |")
    print("|---|---|---|---|")
    print(f"| rays on one thread, before | {rays.rate():.1f} M/s | | |")
    for name, value in desk.measure().items():
        print(
            f"| {NAMES[name]} | {value:.0f} ms | {GOALS[name]} ms |"
            f" {'met' if value <= GOALS[name] else 'not met'} |",
            flush=True,
        )
    print(f"| rays on one thread, after | {rays.rate():.1f} M/s | | |", flush=True)
    for name, value in desk.live().items():
        print(
            f"| instruments while a dimmer moves, 8 units, {name} | {value:.0f} frames a second |"
            f" 15 | {'met' if value >= 15 else 'not met'} |",
            flush=True,
        )
    for unit, count, whole, raw, ratio in rays.measure():
        print(
            f"| straight light ÷ its raw rays, {unit}, {count / 1e3:.0f} k rays, 480 × 270 |"
            f" {1e3 * whole:.0f} ÷ {1e3 * raw:.0f} ms = {ratio:.2f} | | |"
        )
    print(f"| server start → first answer | {desk.cold():.1f} s | | |")


if __name__ == "__main__":
    main()
