"""The committed pictures of the main views: taken here, compared by test_shots.py. Run: python -m
tests.browser.shots
"""

import re
from pathlib import Path

from tests.browser.conftest import PATIENCE, holds
from tests.served import CHROMIUM, served

FOLDER = Path(__file__).resolve().parents[2] / "docs" / "screenshots"


def tried(page):
    """A small trial, done: four heads bare and with a cloth."""
    page.get_by_role("link", name="Trials").first.click()
    page.get_by_role("button", name="New trial").click()
    making = page.get_by_role("dialog")
    rows = making.get_by_role("region", name="Rows")
    for head in (
        "300 W point head, reflector",
        "Soft panel, 2 × 1 ft",
        "300 W head, softbox 120 × 90 cm",
        "Practical bulb, frosted",
    ):
        rows.get_by_role("checkbox", name=head, exact=True).check()
    making.get_by_role("button", name="Columns").click()
    page.get_by_role("option", name="cloths and rigs").click()
    columns = making.get_by_role("region", name="Columns")
    for rig in ("as it stands", "book light"):
        columns.get_by_role("checkbox", name=rig, exact=True).check()
    making.get_by_role("button", name="Run it").click()
    page.get_by_role("list", name="Cells").wait_for()
    page.get_by_role("progressbar").wait_for(state="detached")
    page.get_by_role("button", name="In order of").click()
    page.get_by_role("option", name="softness, half of the light").click()
    page.get_by_role("list", name="Cells").get_by_role("button").nth(4).click()
    holds(page, PICTURED)
    page.mouse.move(2, 790)
    rest(page)


def views(page, server):
    """Walk through the main views from a fresh demo; yields the name of each when it is to be
    pictured.
    """
    page.set_default_timeout(PATIENCE)
    page.add_init_script(COUNTING)
    page.goto(server.url)
    page.get_by_label("Password").wait_for()
    page.evaluate("() => document.fonts.ready")
    page.locator("body").click(position={"x": 5, "y": 5})
    yield "sign-in"
    page.get_by_label("Name").fill("gaffer")
    page.get_by_label("Password").fill(server.password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name="Keeper, instrument room").first.wait_for()
    holds(page, PICTURED)
    yield "shelf"
    page.get_by_role("link", name="Keeper, instrument room").first.click()
    whole(page)
    yield "desk"
    page.get_by_role("button", name="What could stand in for it").click()
    page.get_by_text("22 of 22 tried").wait_for()
    rest(page)
    yield "stand-ins"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Pack and power").click()
    page.get_by_text("W on cables").wait_for()
    rest(page)
    yield "power"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Level card").click()
    page.get_by_role("row", name="Key").first.wait_for()
    rest(page)
    yield "level-card"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Instruments").click()
    for key in "AB":
        page.get_by_role("button", name=f"Set spot {key}").click()
    page.get_by_role("tab", name="Meter").click()
    page.get_by_role("region", name="Ways to meter").wait_for()
    rest(page)
    page.mouse.move(2, 790)
    yield "instruments"
    page.get_by_role("button", name="Instruments").click()
    page.get_by_role("button", name="Compare frames").click()
    page.get_by_role("button", name="Against").click()
    page.get_by_role("option", name="Keeper at the pillar, wide").click()
    page.get_by_role("region", name="What differs").get_by_role("row").first.wait_for()
    holds(page, PICTURED)
    rest(page)
    page.mouse.move(2, 790)
    yield "compare"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Cabinet off").click()
    page.get_by_text("kept", exact=True).wait_for()
    page.get_by_role("link", name="History").click()
    page.get_by_role("list", name="Revisions").get_by_role("listitem").first.wait_for()
    holds(page, PICTURED)
    rest(page)
    yield "history"
    page.goto(server.url)
    page.get_by_role("link", name="Watch officer, night").first.click()
    whole(page)
    page.get_by_role("button", name="Each light's part").click()
    page.get_by_role("button", name="Order of work").click()
    page.get_by_role("list", name="Steps").get_by_role(
        "button", name="What can't be dimmed"
    ).click()
    page.get_by_role("list", name="Who can reach it").wait_for()
    rest(page)
    page.mouse.move(2, 790)
    yield "order-of-work"
    page.get_by_role("button", name="Each light's part").first.click()
    page.get_by_role("button", name="Units", exact=True).click()
    for title, tab, plane, name in (
        ("Pilot, chart store", "Unit", None, "way-of-the-light"),
        ("Keeper, lamp gallery at dawn", "Room", "levels, west wall", "windows"),
    ):
        page.goto(server.url)
        page.get_by_role("link", name=title).first.click()
        whole(page)
        page.get_by_role("tab", name=tab).click()
        if plane:
            page.get_by_role("button", name="Levels").click()
            page.get_by_role("option", name=plane).click()
            page.get_by_role("img", name="Lines of equal level").wait_for()
        if name == "way-of-the-light":
            page.get_by_role("button", name="Projection lens, 19° set…").click()
            page.get_by_label("Way of the light").scroll_into_view_if_needed()
            page.locator("aside").evaluate("(aside) => aside.scrollTo(0, 330)")
        if name == "windows":
            page.get_by_role("button", name="The hour of the day").click()
            page.get_by_role("button", name="Place where on the earth?").click()
            page.get_by_role("option", name="Saltmarsh (made up)").click()
            page.get_by_role("slider", name="Hour of the day").wait_for()
            day = page.get_by_role("group", name="Day", exact=True)
            day.get_by_role("button", name=re.compile("clear$")).click()
            page.get_by_role("dialog").get_by_label("Day", exact=True).fill("2026-10-15")
            page.get_by_role("dialog").get_by_role("button", name="Done").click()
            page.get_by_text("Sun from 07:").wait_for()
            page.get_by_label("The hour, typed").fill("8:30")
            page.get_by_label("The hour, typed").press("Enter")
            page.get_by_role("img", name="Sun on the floor").wait_for()
        whole(page)
        yield name
    page.get_by_role("button", name="The hour of the day").click()
    page.goto(server.url)
    page.get_by_role("region", name="Saltmarsh Signal").get_by_role(
        "link", name="Kit", exact=True
    ).click()
    page.get_by_text("pieces in").wait_for()
    page.mouse.move(2, 790)
    rest(page)
    yield "kit"
    page.goto(server.url)
    page.get_by_role("region", name="Saltmarsh Signal").get_by_role(
        "link", name="Days", exact=True
    ).click()
    page.get_by_role("link", name="First day at the observatory").click()
    page.get_by_role("region", name="Money").wait_for()
    page.mouse.move(2, 790)
    rest(page)
    yield "day-plan"
    page.goto(server.url)
    page.get_by_role("region", name="Saltmarsh Signal").get_by_role("link", name="Stills").click()
    page.get_by_role("link", name="Pilot, camera test").click()
    page.get_by_role("tab", name="Lights").click()
    page.get_by_text("Surely camera left").wait_for()
    holds(page, PICTURED)
    page.mouse.move(2, 790)
    rest(page)
    yield "still"
    page.goto(server.url)
    tried(page)
    yield "trial"
    page.goto(server.url)
    page.get_by_role("link", name="Keeper, kitchen after supper").first.click()
    whole(page)
    page.get_by_role("tab", name="Room").click()
    page.get_by_role("button", name="Furniture", exact=True).click()
    page.get_by_role("button", name="Kitchen table on the plan").press("Enter")
    page.mouse.move(2, 790)
    rest(page)
    yield "place"
    page.goto(server.url)
    page.get_by_role("link", name="Watch officer, office by the window").first.click()
    whole(page)
    page.get_by_role("tab", name="Room").click()
    page.get_by_role("button", name="Walls and sky").click()
    page.get_by_role("button", name="North-up plan").click()
    page.get_by_role("button", name="Wall in hand").click()
    page.get_by_role("option", name="wall 6").click()
    page.mouse.move(2, 790)
    rest(page)
    yield "outline"
    page.get_by_role("button", name="North-up plan").click()
    page.goto(server.url)
    page.get_by_role("link", name="Pilot, chart store").first.click()
    whole(page)
    page.get_by_role("button", name="What the frame does").click()
    page.get_by_role("button", name="neck").first.click()
    page.get_by_role("button", name="Try what would mend it").click()
    page.get_by_role("group", name="What would mend it").get_by_role("status").wait_for()
    page.get_by_role("button", name="Sweep one thing").click()
    holds(page, "() => document.querySelector('[aria-label=Sweep]').ariaBusy === 'false'")
    page.mouse.move(2, 790)
    rest(page)
    yield "reading"


PICTURED = "() => [...document.images].every((i) => i.complete && i.naturalWidth)"
COUNTING = """
globalThis.underWay = 0;
globalThis.lastAsked = 0;
const fetching = globalThis.fetch;
globalThis.fetch = async (...asked) => {
    globalThis.underWay += 1;
    try {
        return await fetching(...asked);
    } finally {
        globalThis.underWay -= 1;
        globalThis.lastAsked = performance.now();
    }
};
"""
"""Counts what the page has asked and not been answered, and when the last answer came."""


def rest(page, frame=""):
    """Wait until nothing has been asked for most of a second: on a slow machine all comes late."""
    holds(page, f"() => !underWay && performance.now() - lastAsked > 700 {frame}")


def whole(page):
    """Wait for the whole frame, and for the figures that are asked for when it is whole."""
    page.mouse.move(2, 790)
    rest(page, '&& document.querySelector("canvas[aria-busy]")?.ariaBusy === "false"')
    rest(page)


def main():
    from playwright.sync_api import sync_playwright

    FOLDER.mkdir(exist_ok=True)
    with served("inkwell_shots") as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for name in views(page, server):
            # A button just pressed is shown as it will be.
            page.screenshot(path=FOLDER / f"{name}.png", animations="disabled")
            print(name)
        browser.close()


if __name__ == "__main__":
    main()
