"""The whole order of work in the browser, as a gaffer builds: three-point in a dark room, and
natural with a window that can't be dimmed.
"""

import re

from playwright.sync_api import expect

from tests.browser.test_desk import level, settled
from tests.browser.test_light import pick, until

ROOM = {
    "schema_version": 4,
    "title": "Pilot, waiting room",
    "room": {
        "width": 5,
        "depth": 6,
        "height": 2.8,
        **{side: {"reflectance": 0.07} for side in ("north", "south", "east", "west")},
    },
    "figures": [
        {
            "id": "pilot",
            "name": "Pilot",
            "figure": "broad-man",
            "pose": "seated",
            "position": [2.5, 2.6],
        }
    ],
    "cameras": [
        {
            "id": "a",
            "name": "A camera",
            "position": [2.5, 5.1, 1.25],
            "aim": [2.5, 2.6, 1.08],
            "focal_length": 60,
        }
    ],
}
WINDOW = {
    "id": "window",
    "name": "Harbour window",
    "wall": "south",
    "along": 1.6,
    "up": 1.75,
    "size": [0.9, 1.1],
}
LAMP = {
    "id": "lamp",
    "name": "Wall lamp",
    "role": "practical",
    "head": "bulb",
    "position": [4.6, 1.0, 1.9],
    "aim": [4.6, 1.0, 0.9],
}


def open_own(page, document):
    """A set-up of the test's own, in the demo's first scene."""
    link = page.get_by_role("link", name="Keeper, instrument room").first.get_attribute("href")
    made = page.evaluate(
        """async ([link, document]) => {
            const { csrf } = await (await fetch("/api/session")).json();
            const { scene } = await (await fetch(`/api${link}`)).json();
            const headers = { "X-CSRFToken": csrf, "Content-Type": "application/json" };
            const path = `/api/scenes/${scene.id}/import`;
            const body = JSON.stringify(document);
            return (await (await fetch(path, { method: "POST", headers, body })).json()).id;
        }""",
        [link, document],
    )
    page.goto(page.url.rstrip("/") + f"/setups/{made}")
    settled(page)


def step(page, name):
    """The button of a step; opened when it is not."""
    button = page.get_by_role("list", name="Steps").get_by_role(
        "button", name=re.compile(f"^{name}")
    )
    if button.get_attribute("aria-expanded") == "false":
        button.click()
    return button


def check(page, name):
    """What the open step says once the newest judgement is in."""
    told = page.get_by_role("status", name=f"{name}, check")
    expect(told).to_have_attribute("aria-busy", "false")
    return told


def done(page, name):
    """The step is met, and taken as done."""
    step(page, name)
    expect(check(page, name)).to_contain_text("Met")
    page.get_by_role("list", name="Steps").get_by_role("button", name="Done", exact=True).click()
    expect(
        page.get_by_role("list", name="Steps").get_by_role(
            "button", name=re.compile(f"^{name} done")
        )
    ).to_be_visible()
    settled(page)


def bring(page, head):
    page.get_by_role("button", name="Units", exact=True).click()
    page.get_by_role("button", name="Bring in a unit").click()
    page.get_by_role("radio", name=head).click()
    page.get_by_role("button", name="Bring it in").click()
    settled(page)
    page.get_by_role("button", name="Order of work").click()


def dim(page, steps):
    """Thirds of a stop on the chosen unit's dimmer, as the hand does it."""
    for _ in range(abs(steps)):
        page.keyboard.press("." if steps > 0 else ",")
    settled(page)


def take_it(page):
    page.get_by_role("button", name=re.compile("^Take it to")).click()
    settled(page)


def tilt(page, height):
    page.get_by_label("Looks at height").fill(str(height))
    page.get_by_label("Looks at height").press("Enter")
    settled(page)


def ratio(page, target, unit):
    region = page.get_by_role("region", name="Set the ratio")
    region.get_by_label("Ratio").fill(str(target))
    region.get_by_label("Ratio").press("Enter")
    pick(page, "With", re.compile(f"^{unit}"))
    region.get_by_role("button", name="Set", exact=True).click()
    settled(page)


def test_three_point_is_built_step_by_step(desk):
    open_own(desk, ROOM)
    desk.keyboard.press("o")
    desk.get_by_role("button", name=re.compile("^Three-point")).click()
    expect(desk.get_by_text("11 steps to go.")).to_be_visible()
    # The crown is cut: the step says so, has the camera in hand, and is met once the lens is tilted
    # up.
    step(desk, "Frame")
    expect(check(desk, "Frame")).to_contain_text("tilt up")
    tilt(desk, 1.2)
    for name in ("Frame", "Keep or kill", "What can't be dimmed"):
        done(desk, name)
    # The stage is dark: the key is asked for, brought in and taken to its level.
    expect(check(desk, "Key")).to_contain_text("bring in the key")
    bring(desk, re.compile("^300 W head, softbox"))
    step(desk, "Key")
    # It comes in at the camera's stop; a stop brighter, the step says so and takes it back.
    expect(check(desk, "Key")).to_contain_text("Met")
    slider = desk.get_by_role("slider", name="Dimmer")
    for _ in range(3):
        slider.press("ArrowRight")
    expect(check(desk, "Key")).to_contain_text(re.compile("over|under"))
    take_it(desk)
    done(desk, "Key")
    bring(desk, re.compile("^Soft panel, 2"))
    step(desk, "Fill")
    expect(check(desk, "Fill")).to_contain_text(re.compile("wanted 4:1|Met"))
    ratio(desk, 4, "Fill")
    done(desk, "Fill")
    expect(desk.get_by_label("Key-to-fill ratio")).to_have_text("4 : 1")
    bring(desk, re.compile("^200 W fresnel"))
    step(desk, "Separation")
    expect(check(desk, "Separation")).to_contain_text(re.compile("what is behind it"))
    if desk.get_by_role("button", name=re.compile("^Take it to")).count():
        take_it(desk)
    done(desk, "Separation")
    bring(desk, "Small battery panel")
    step(desk, "Background")
    told = check(desk, "Background")
    if "Met" not in told.inner_text():
        expect(told).to_contain_text("the lit skin")
        take_it(desk)
    done(desk, "Background")
    # What came in later adds to the face: the key is taken up again and set anew.
    for name in ("Eye light", "Control"):
        done(desk, name)
    done(desk, "Instruments")
    desk.get_by_label("Notes").fill("Flag on the left stand. Lamp two runs hot.")
    desk.get_by_label("Notes").blur()
    done(desk, "Note")
    expect(desk.get_by_text("Built: every step is done or skipped.")).to_be_visible()
    # It is all there after lunch.
    desk.reload()
    settled(desk)
    desk.keyboard.press("o")
    expect(desk.get_by_text("Built: every step is done or skipped.")).to_be_visible()
    expect(
        desk.get_by_role("list", name="Steps").get_by_role("button", name=re.compile("done"))
    ).to_have_count(11)


def skip(page, name, why):
    step(page, name)
    steps = page.get_by_role("list", name="Steps")
    steps.get_by_role("button", name="Skip…").click()
    expect(steps.get_by_role("button", name="Skip it")).to_be_disabled()
    steps.get_by_label("Why it is skipped").fill(why)
    steps.get_by_role("button", name="Skip it").click()
    expect(steps.get_by_role("button", name=re.compile(f"^{name} skipped: {why}"))).to_be_visible()
    settled(page)


def test_natural_is_built_up_to_a_window_that_cannot_be_dimmed(desk):
    open_own(
        desk,
        {
            **ROOM,
            "title": "Pilot, by the harbour window",
            "openings": [WINDOW],
            "sky": {"level": 1200},
            "units": [LAMP],
            "cameras": [{**ROOM["cameras"][0], "aim": [2.5, 2.6, 1.2], "focal_length": 45}],
        },
    )
    desk.keyboard.press("o")
    desk.get_by_role("button", name=re.compile("^Natural")).click()
    done(desk, "Frame")
    # The place lights the face by itself: that is asked about before anything is brought in.
    told = check(desk, "Keep or kill")
    expect(told).to_contain_text("the sky brings")
    desk.get_by_role("list", name="Steps").get_by_role(
        "button", name="Move Keep or kill later"
    ).click()
    settled(desk)
    step(desk, "What can't be dimmed")
    expect(check(desk, "What can't be dimmed")).to_contain_text("Harbour window is lit by the sky")
    pick(desk, "Mark as fixed", "Harbour window")
    window = desk.get_by_role("group", name="Harbour window")
    expect(window).to_contain_text("over where it should sit")
    # It is exposed for by the index, and the level that the key must reach is told.
    before = level(desk)
    window.get_by_role("button", name=re.compile("^Set EI")).click()
    expect(window).to_contain_text("At these settings the key side asks for")
    expect(window).to_contain_text("sits where it should")
    asked = float(re.search(r"asks for ([\d.]+) fc", window.inner_text()).group(1))
    assert level(desk) == before
    done(desk, "What can't be dimmed")
    # The lamp on the wall is nobody's friend: the step has it in hand, and a key puts it out.
    step(desk, "Keep or kill")
    expect(check(desk, "Keep or kill")).to_contain_text("Wall lamp brings")
    expect(desk.get_by_role("textbox", name="Name")).to_have_value("Wall lamp")
    desk.keyboard.press("x")
    done(desk, "Keep or kill")
    # No lamp here reaches that; one that can is brought in, and the desk says at what dimmer.
    bring(desk, re.compile("^300 W head, softbox"))
    desk.get_by_role("tab", name="Meter").click()
    reach = (
        window.get_by_role("list", name="Who can reach it")
        .get_by_role("listitem")
        .filter(has_text="Key")
    )
    expect(reach).to_contain_text("%")
    reach.get_by_role("button", name="Take it there").click()
    until(desk, lambda: abs(level(desk, "key side, toward") / asked - 1) < 0.05)
    done(desk, "Key")
    bring(desk, re.compile("^Soft panel, 2"))
    step(desk, "Fill")
    ratio(desk, 2.8, "Fill")
    done(desk, "Fill")
    for name in ("Background", "Separation"):
        step(desk, name)
        if "Met" in check(desk, name).inner_text():
            done(desk, name)
        else:
            skip(desk, name, "the harbour holds the picture")
    for name in ("Control", "Eye light", "Instruments"):
        done(desk, name)
    skip(desk, "Note", "the card says it")
    expect(desk.get_by_text("Built: every step is done or skipped.")).to_be_visible()
    # A step that was skipped can be taken up again, and another plan keeps what was done.
    step(desk, "Note")
    desk.get_by_role("button", name="Take it up again").click()
    expect(desk.get_by_text("1 step to go.")).to_be_visible()
    pick(desk, "Order", re.compile("^High contrast"))
    settled(desk)
    names = [
        b.inner_text().split("\n")[0]
        for b in desk.get_by_role("list", name="Steps").locator("button[aria-expanded]").all()
    ]
    assert names.index("Separation") < names.index("Fill")
    expect(desk.get_by_text("1 step to go.")).to_be_visible()
