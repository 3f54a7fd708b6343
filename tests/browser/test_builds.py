"""Places built by hand from an empty set-up, as somebody would who has not seen the program: every
press, choice and typed figure is counted, and no file is brought in.
"""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import pixels
from tests.browser.test_desk import level, settled
from tests.browser.test_light import pick, until
from tests.browser.test_place import furnish


class Hand:
    """A user whose actions are counted: opening a list and choosing from it are two."""

    def __init__(self, page):
        self.page, self.count = page, 0

    def press(self, name, role="button"):
        self.count += 1
        self.page.get_by_role(role, name=name, exact=isinstance(name, str)).first.click()
        settled(self.page)

    def choose(self, label, option):
        self.count += 2
        pick(self.page, label, option)
        settled(self.page)

    def type(self, label, value):
        self.count += 1
        field = self.page.get_by_label(label, exact=True).first
        field.fill(str(value))
        field.press("Enter")
        settled(self.page)

    def begin(self, title):
        self.count += 3
        self.page.get_by_role("button", name="New set-up").first.click()
        self.page.get_by_label("Title").fill(title)
        self.page.get_by_role("button", name="Open the desk").click()
        settled(self.page)

    def furniture(self):
        self.count += 2
        furnish(self.page)

    def bring(self, name):
        self.choose("Bring in furniture", re.compile(rf"^{name}\b(?! lamp\b)"))

    def stored(self):
        """The document as the server keeps it."""
        link = self.page.url.rsplit("/", 1)[1]
        return self.page.evaluate(
            "async (n) => (await (await fetch(`/api/setups/${n}`)).json()).document", link
        )


def kitchen(page):
    """A counter with tiled back, cupboards with strips under them, two doors, a ceiling tube."""
    hand = Hand(page)
    hand.begin("Kitchen, by hand")
    hand.press("Room", "tab")
    hand.type("Width", 3.6)
    hand.type("Depth", 4.4)
    hand.press("Furniture")
    hand.bring("Kitchen counter")
    hand.type("Wide", 3.0)
    hand.bring("Wall cupboard")
    hand.press("Duplicate")
    hand.bring("Strip")
    hand.bring("Strip")
    # It comes to the wall behind, and goes round to the next ones.
    hand.bring("Door, shut")
    hand.press("To the next wall")
    hand.bring("Door, shut")
    for _ in range(3):
        hand.press("To the next wall")
    hand.bring("Ceiling tube")
    return hand


def office(page):
    """An L with a window, two desks with lit monitors, shelves, two ceiling tubes."""
    hand = Hand(page)
    hand.begin("Office, by hand")
    hand.press("Room", "tab")
    hand.choose("Shape", "L-shape")
    hand.press("North-up plan")
    hand.choose("Wall in hand", re.compile("^wall 2"))
    hand.press("Cut a window in it")
    hand.press("Furniture")
    hand.bring("Desk")
    hand.bring("Monitor, lit")
    hand.bring("Desk")
    hand.bring("Monitor, lit")
    hand.bring("Bookshelf")
    hand.bring("Ceiling tube")
    hand.press("Duplicate")
    return hand


def bedroom(page):
    """On the second floor: a window behind the bed, a curtain, bedside lamps, somebody on the edge
    of the bed.
    """
    hand = Hand(page)
    hand.begin("Bedroom, by hand")
    hand.press("Room", "tab")
    hand.type("Above ground", 5.8)
    hand.choose("Wall in hand", re.compile("^south"))
    hand.press("Cut a window in it")
    hand.press("Furniture")
    hand.bring("Bed")
    hand.bring("Curtain")
    hand.bring("Low table")
    hand.bring("Table lamp")
    return hand


def table_for_two(page):
    """Two people at a table, each facing the other, a camera on either."""
    hand = Hand(page)
    hand.begin("Table for two, by hand")
    hand.press("Subject", "tab")
    hand.choose("Bring in a person", "Young man")
    hand.type("From the west wall", 2.5)
    hand.type("From the south wall", 4.1)
    hand.press("Face Subject")
    hand.press("A camera on Person 2")
    hand.press("Room", "tab")
    hand.press("Furniture")
    for piece in ("Round table", "Pendant lamp"):
        hand.bring(piece)
        hand.type("From west", 2.5)
        hand.type("From south", 3.25)
    return hand


def kinds(document):
    """What was brought in: a new set-up comes with a stool under its subject."""
    return [piece["kind"] for piece in document["furniture"] if piece["name"] != "Stool"]


def test_a_kitchen_in_thirty_five_actions(desk):
    hand = kitchen(desk)
    made = hand.stored()
    assert sorted(kinds(made)) == sorted(
        ["counter", *["wall-cupboard", "strip-light", "door"] * 2, "ceiling-tube"]
    )
    # The strips hang under the cupboards, on a switch of their own; the tube under the ceiling.
    under = [f for f in made["furniture"] if f["kind"] == "strip-light"]
    over = [f for f in made["furniture"] if f["kind"] == "wall-cupboard"]
    places = [sorted(f["position"][0] for f in found) for found in (under, over)]
    assert places[0] == pytest.approx(places[1])
    assert all(
        strip["position"][2] + strip["size"][2] == pytest.approx(over[0]["position"][2])
        for strip in under
    )
    tube = next(f for f in made["furniture"] if f["kind"] == "ceiling-tube")
    assert tube["position"][2] + tube["size"][2] == pytest.approx(made["room"]["height"])
    # Each door stands in a wall of its own.
    doors = [f["position"][0] for f in made["furniture"] if f["kind"] == "door"]
    assert min(doors) < 0.2 and max(doors) > 3.4
    house = desk.get_by_role("list", name="House lights")
    lit = pixels(desk).mean()
    hand.press("Switch ceiling off")
    until(desk, lambda: pixels(desk).mean() < lit - 3)
    expect(house.get_by_role("button", name="Switch cupboards off")).to_be_visible()
    assert level(desk) > 0
    assert hand.count <= 35, hand.count


def test_an_l_shaped_office_in_thirty_actions(desk):
    hand = office(desk)
    made = hand.stored()
    assert len(made["room"]["outline"]) == 6 and len(made["openings"]) == 1
    assert sorted(kinds(made)) == sorted(["desk", "lit-monitor", "ceiling-tube"] * 2 + ["shelf"])
    tops = [f for f in made["furniture"] if f["kind"] == "lit-monitor"]
    assert all(f["position"][2] > 0.6 for f in tops)
    assert hand.count <= 30, hand.count


def test_a_bedroom_upstairs_in_twenty_five_actions(desk):
    hand = bedroom(desk)
    made = hand.stored()
    assert made["room"]["storey"] == 5.8 and made["openings"][0]["wall"] == "south"
    assert sorted(kinds(made)) == sorted(["bed", "curtain", "low-table", "table-lamp"])
    assert hand.count <= 25, hand.count


def test_a_table_for_two_with_reverse_cameras_in_twenty_five_actions(desk):
    hand = table_for_two(desk)
    made = hand.stored()
    assert len(made["figures"]) == 2 and len(made["cameras"]) == 2
    assert hand.count <= 25, hand.count
