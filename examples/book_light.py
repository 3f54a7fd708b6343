"""How many foot-candles does a book light give, and what does it cost in stops?"""

import moth

LAMP = {
    "id": "key",
    "name": "Key",
    "role": "key",
    "head": "point-600",
    "position": [3.6, 4.0, 2.2],
    "aim": [2, 2, 1.5],
}


def main():
    straight = moth.bare(title="Keeper", units=[LAMP])
    book = moth.rig(straight, "key", "book")
    for name, setup in (("straight", straight), ("book light", book)):
        unit = moth.inspect(setup, "key")
        print(
            f"{name}: {unit.footcandles:.0f} fc on the face, {unit.stop_words},"
            f" a source {unit.size.degrees:.0f} degrees wide"
        )
    print(f"The book costs {-moth.inspect(book, 'key').cost.stops:.1f} stops.")


if __name__ == "__main__":
    main()
