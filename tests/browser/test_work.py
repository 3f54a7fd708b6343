"""What a set-up takes, what stands in for what, the order of a day, driven in a real browser."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import PATIENCE, came, holds
from tests.browser.test_desk import settled
from tests.browser.test_light import pick

REGION = "Saltmarsh Signal"


def room(desk, server, name):
    desk.goto(server.url)
    desk.get_by_role("region", name=REGION).get_by_role("link", name=name, exact=True).click()


def opened(desk, server, title):
    desk.goto(server.url)
    desk.get_by_role("link", name=title).first.click()
    settled(desk)


def test_a_kit_is_listed_and_what_is_short_is_told_at_the_desk(desk, server):
    room(desk, server, "Kit")
    heads = desk.get_by_role("region", name="Heads", exact=True)
    heads.get_by_role("row", name="Soft key").first.wait_for()
    # A table with a wrong line is refused whole, and says why.
    table = "Kind,Name,Catalogue,Count,Power [W]\nhead,Good,point-300,1,\nhead,Bad,point-300,1,-5\n"
    desk.get_by_label("Table of a kit").set_input_files(
        {"name": "kit.csv", "mimeType": "text/csv", "buffer": table.encode()}
    )
    expect(desk.get_by_role("alert")).to_contain_text("Line 3, Power [W]")
    desk.get_by_role("button", name="Keep it").click()
    expect(desk.get_by_role("row", name="Good")).to_have_count(0)
    desk.get_by_label("Table of a kit").set_input_files(
        {"name": "kit.csv", "mimeType": "text/csv", "buffer": table.replace("-5", "50").encode()}
    )
    desk.get_by_role("button", name="Take Good out").wait_for()
    # One's own head, by three readings that no beam gives, then by three that one does.
    desk.get_by_role("button", name="A head by three readings").click()
    sheet = desk.get_by_role("dialog")
    sheet.get_by_label("Name").fill("Barn lamp")
    sheet.get_by_label("Reading there").fill("2000")
    sheet.get_by_role("button", name="Add it").click()
    expect(sheet.get_by_role("alert")).to_contain_text("no beam gives these")
    sheet.get_by_label("Reading there").fill("500")
    sheet.get_by_role("button", name="Add it").click()
    desk.get_by_role("row", name="Barn lamp").get_by_text("own light from a file").wait_for()
    # The large soft head taken out of the kit is short at the desk.
    desk.get_by_role("button", name="Take Soft key out").click()
    desk.get_by_role("button", name="Take it out").click()
    expect(desk.get_by_role("row", name="Soft key", exact=False)).to_have_count(1)
    opened(desk, server, "Keeper, instrument room")
    desk.get_by_role("button", name="Pack and power").click()
    desk.get_by_role("tab", name="To pack").click()
    expect(desk.get_by_role("list", name="Short")).to_contain_text("softbox 120 × 90 cm")


def test_a_breaker_that_carries_too_much_is_told_and_undone(desk, server):
    opened(desk, server, "Keeper, instrument room")
    desk.get_by_role("button", name="Pack and power").click()
    power = desk.get_by_role("region", name="Circuits")
    expect(power.get_by_text("Bench: 0.1 A as set")).to_be_visible()
    desk.get_by_label("Breaker of Bench").fill("1")
    desk.get_by_label("Breaker of Bench").press("Enter")
    expect(power.get_by_text("more than its breaker carries")).to_be_visible()
    # What hung on a circuit that is taken away hangs on nothing.
    desk.get_by_role("button", name="Take Bench away").click()
    expect(desk.get_by_text("units hang on nothing yet")).to_be_visible()
    desk.keyboard.press("Escape")
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    settled(desk)
    desk.get_by_role("button", name="Pack and power").click()
    expect(power.get_by_text("Bench: 0.1 A as set, 1.4 A at full, of 6 A")).to_be_visible()
    # Sockets stand on the plan, and are carried there by keys.
    desk.keyboard.press("Escape")
    settled(desk)
    socket = desk.get_by_role("button", name=re.compile("^Socket 1 of ")).first
    expect(desk.get_by_role("img", name="Cable of Key")).to_be_visible()
    setup = f"/setups/{desk.url.rsplit('/', 1)[1]}"
    asked = "async (p) => (await (await fetch(`/api${p}`)).json()).document.circuits"
    before = desk.evaluate(asked, setup)
    socket.focus()
    for _ in range(3):
        desk.keyboard.press("ArrowRight")
    came(desk, lambda: desk.evaluate(asked, setup) != before)
    desk.get_by_role("button", name="Pack and power").click()
    # A lamp that dies in the take.
    desk.get_by_label("Lamps must last").fill("900")
    desk.get_by_label("Lamps must last").press("Enter")
    expect(desk.get_by_text(re.compile("Cabinet dies after"))).to_be_visible()


def test_a_stand_in_keeps_the_level_and_changes_nothing_else(desk, server):
    opened(desk, server, "Keeper, instrument room")
    units = desk.get_by_role("region", name="Units", exact=True)
    before = units.get_by_role("listitem").all_inner_texts()
    desk.get_by_role("button", name="What could stand in for it").click()
    found = desk.get_by_role("list", name="Heads that could stand in")
    expect(desk.get_by_text("22 of 22 tried")).to_be_visible()
    desk.get_by_role("button", name="lighter", exact=True).click()
    mat = found.get_by_role("listitem").filter(has_text="Flexible mat")
    expect(mat).to_contain_text("the same level")
    mat.get_by_role("button", name="Put it in").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Key 37.9 fc, Flexible mat")).to_be_visible()
    after = units.get_by_role("listitem").all_inner_texts()

    def level(texts, name):
        text = next(t for t in texts if t.startswith(name))
        return float(re.search(r"([\d.]+) fc", text)[1])

    holds(desk, "() => globalThis.underWay === 0")
    assert abs(level(after, "Key") / level(before, "Key") - 1) < 0.07
    for name in ("Fill", "Edge", "Globe"):
        assert abs(level(after, name) / level(before, name) - 1) < 0.03
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    settled(desk)


def test_a_day_from_empty_to_paper(desk, server):
    room(desk, server, "Days")
    desk.get_by_role("button", name="New day").click()
    desk.get_by_label("Name of the day").fill("Second day")
    desk.get_by_label("Date").fill("2026-10-16")
    desk.get_by_role("button", name="Make it").click()
    for title in ("Pilot, chart store", "Watch officer, night", "Keeper at the pillar, wide"):
        pick(desk, "Put a set-up in", title)
        desk.get_by_role("region", name=f"Of {title}").wait_for()
    # Hours that are none are told beside the field, and nothing is lost.
    window = desk.get_by_label("Light is right")
    window.fill("soon")
    window.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("Write hours as")
    window.fill("16-17:30")
    window.press("Enter")
    desk.get_by_role("button", name="Put it in order").click()
    expect(desk.get_by_text("3 set-ups,")).to_be_visible()
    rows = desk.get_by_role("region", name="The day in time").get_by_role("listitem")
    expect(rows.last).to_contain_text("Keeper at the pillar, wide")
    # Carried by the hand, it is fixed there, and the rest gives way.
    block = desk.get_by_role("button", name="Pilot, chart store: shot")
    box = block.bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(*middle)
    desk.mouse.down()
    desk.mouse.move(middle[0] + 200, middle[1], steps=6)
    desk.mouse.up()
    fixed = desk.get_by_role("button", name="Fix the time of Pilot, chart store")
    expect(fixed).to_have_attribute("aria-pressed", "true")
    at = fixed.inner_text().removeprefix("at ")
    expect(rows.filter(has_text="Pilot, chart store")).to_contain_text(f"{at}–")
    # Fixed where it cannot be, the plan says which wishes are at odds.
    desk.get_by_role("button", name="Keeper at the pillar, wide: shot").focus()
    for _ in range(3):
        desk.keyboard.press("Shift+ArrowRight")
    expect(desk.get_by_text("These cannot be met together")).to_be_visible()
    expect(desk.get_by_role("alert").first).to_contain_text(
        "Keeper at the pillar, wide is fixed at"
    )
    while desk.get_by_text("These cannot be met together").count():
        desk.get_by_role("button", name="Undo").click()
        desk.get_by_role("button", name="Put it in order").click()
        holds(desk, "() => globalThis.underWay === 0")
    # On paper, in a calendar, as a table.
    for name, begins in (("On paper", b"%PDF"), ("Calendar", b"BEGIN:VCALENDAR")):
        link = desk.get_by_role("link", name=name).get_attribute("href")
        answer = desk.request.get(server.url + link, timeout=PATIENCE)
        assert answer.ok and answer.body().startswith(begins)
    # Found again.
    room(desk, server, "Days")
    expect(desk.get_by_role("link", name="Second day")).to_contain_text("3 set-ups")
