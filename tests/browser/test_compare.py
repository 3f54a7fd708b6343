"""Frozen frames, set-ups compared and matched, each light's part, other lens sizes, walks: in the
browser.
"""

import re

import numpy as np
from playwright.sync_api import expect

from tests.browser.conftest import WIDE, holds, part, pixels
from tests.browser.test_desk import level, open_copy, settled
from tests.browser.test_light import pick, until


def readings(page):
    return {
        mark: level(page, mark)
        for mark in (
            "key side, toward",
            "under the chin",
            "fill side, toward the lens",
            "key shaded off",
        )
    }


def freeze(page):
    page.get_by_role("button", name="Freeze this frame").click()


def turn(page, *dimmers):
    """Thirds of a stop on several dimmers: (unit's number, key, times)."""
    for unit, key, times in dimmers:
        page.keyboard.press(unit)
        for _ in range(times):
            page.keyboard.press(key)
        settled(page)


def comparing(page):
    page.keyboard.press("c")
    return page.get_by_role("dialog", name="Compare")


def mean_of(page, locator):
    """Mean code of a picture on the page."""
    return page.evaluate(
        """async (image) => {
        await image.decode();
        const c = document.createElement('canvas'); c.width = 64; c.height = 36;
        const x = c.getContext('2d'); x.drawImage(image, 0, 0, 64, 36);
        const codes = [...x.getImageData(0, 0, 64, 36).data];
        return codes.reduce((a, b, k) => a + (k % 4 < 3 ? b : 0), 0) / (64 * 36 * 3);
    }""",
        locator.element_handle(),
    )


def test_a_frozen_frame_is_compared_wiped_matched_and_put_back(desk):
    open_copy(desk)
    before = readings(desk)
    freeze(desk)
    # After lunch somebody has had the dimmers, and the camera was stopped down.
    turn(desk, ("1", ".", 4), ("2", ".", 5), ("3", ",", 3))
    desk.get_by_role("button", name="Camera settings").click()
    pick(desk, "Stop", re.compile(r"^T5\.6$"))
    settled(desk)
    assert abs(np.log2(level(desk) / before["under the chin"])) > 0.5
    sheet = comparing(desk)
    table = sheet.get_by_role("region", name="What differs")
    expect(table.get_by_role("row", name=re.compile("^Units? ?Key|Key dimmer"))).to_contain_text(
        "1⅓ stops up"
    )
    expect(table.get_by_role("row", name=re.compile("^Camera stop|stop T"))).to_contain_text(
        "less exposure"
    )
    now, then = (mean_of(desk, sheet.get_by_role("img").nth(k)) for k in (0, 1))
    assert abs(now - then) > 3
    # The wipe shows one over the other, its edge moved by keys.
    sheet.get_by_role("button", name="Wipe").click()
    edge = sheet.get_by_role("slider", name="Edge of the wipe")
    edge.press("Home")
    assert "inset(0px 100% 0px 0px)" in sheet.get_by_alt_text("This frame").evaluate(
        "(i) => getComputedStyle(i).clipPath"
    )
    sheet.get_by_role("button", name="Match this").click()
    expect(sheet.get_by_role("status", name="Match")).to_contain_text("within a tenth of a stop")
    expect(table.get_by_role("row", name=re.compile("under the chin"))).to_have_count(0)
    # The camera is no dimmer: it is still told, until all is put back.
    expect(table).to_contain_text("less exposure")
    sheet.get_by_role("button", name="Put all back as it was").click()
    expect(table).to_contain_text("Nothing differs")
    sheet.get_by_role("button", name="Done").click()
    settled(desk)
    assert {k: round(v, 2) for k, v in readings(desk).items()} == {
        k: round(v, 2) for k, v in before.items()
    }
    # What was frozen is here at another browser too; every step can be undone.
    desk.evaluate("localStorage.removeItem('inkwell-frozen')")
    desk.reload()
    settled(desk)
    sheet = comparing(desk)
    expect(sheet).to_contain_text("frozen by gaffer, kept with the set-up")
    called = sheet.get_by_label(re.compile("^Called"))
    expect(called).to_have_value(re.compile("^Frame 1"))
    called.fill("Before lunch")
    called.press("Enter")
    expect(sheet.get_by_role("button", name=re.compile("^Against"))).to_contain_text("Before lunch")
    desk.keyboard.press("Escape")
    # Two frozen ones are held against each other.
    freeze(desk)
    expect(desk.get_by_role("button", name="Freeze this frame")).to_contain_text("2")
    sheet = comparing(desk)
    pick(desk, "This", "Before lunch")
    expect(sheet.get_by_role("img").first).to_be_visible()
    expect(sheet.get_by_role("region", name="What differs")).to_contain_text("Nothing differs")
    expect(sheet.locator("figcaption").first).to_have_text("Before lunch")
    sheet.get_by_role("button", name="Let it go").click()
    expect(sheet.get_by_role("button", name=re.compile("^Against"))).not_to_contain_text("Frame 2")
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("button", name=re.compile("^Undo As it was"))).to_be_enabled()


def test_match_meters_as_the_frozen_frame_did(desk):
    open_copy(desk)
    before = readings(desk)
    freeze(desk)
    turn(desk, ("1", ",", 5), ("2", ".", 6), ("4", ",", 4))
    sheet = comparing(desk)
    sheet.get_by_role("button", name="Match this").click()
    expect(sheet.get_by_role("status", name="Match")).to_contain_text("%")
    sheet.get_by_role("button", name="Done").click()
    until(desk, lambda: all(abs(np.log2(readings(desk)[m] / before[m])) < 0.1 for m in before))


def test_another_setup_is_compared_with_its_own_picture(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Compare frames").click()
    sheet = desk.get_by_role("dialog", name="Compare")
    pick(desk, "Against", re.compile("^Watch officer, night"))
    table = sheet.get_by_role("region", name="What differs")
    expect(table).to_contain_text("only there")
    expect(table).to_contain_text("The place")
    picture = sheet.get_by_alt_text(re.compile("Watch officer"))
    holds(desk, f"(i) => i.complete && i.naturalWidth === {WIDE}", picture.element_handle())
    desk.keyboard.press("Escape")


def test_a_still_is_held_against_the_frame_and_one_press_takes_what_it_does(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Compare frames").click()
    sheet = desk.get_by_role("dialog", name="Compare")
    desk.get_by_role("button", name=re.compile("^Against")).click()
    desk.get_by_role("option").filter(has_text=re.compile("still$")).first.click()
    table = sheet.get_by_role("region", name="What differs")
    expect(table.get_by_role("row").first).to_be_visible()
    expect(sheet.get_by_role("button", name="Match this")).to_have_count(0)
    picture = sheet.locator("figure img").last
    holds(desk, "(i) => i.complete && i.naturalWidth > 300", picture.element_handle())
    # The largest difference that something mends is gone once that is pressed.
    rows = table.get_by_role("row").filter(has=desk.get_by_role("button"))
    what = rows.first.get_by_role("cell").first.inner_text()
    told = rows.first.inner_text()
    rows.first.get_by_role("button").click()
    expect(table.get_by_text(told, exact=True)).to_have_count(0)
    assert what
    desk.keyboard.press("Escape")
    settled(desk)
    expect(desk.get_by_role("button", name="Undo")).to_be_enabled()


def strip(page, name):
    """Pixels of a small frame."""
    return pixels(page, page.get_by_role("img", name=re.compile(f"^{name}"))).astype(float)


def linear(codes):
    v = codes / 255
    return np.where(v < 0.081, v / 4.5, ((v + 0.099) / 1.099) ** (1 / 0.45))


def test_each_lights_part_in_small_frames_adds_up_to_the_frame(desk):
    open_copy(desk)
    desk.keyboard.press("l")
    group = desk.get_by_role("group", name="Each light's part")
    expect(group.get_by_role("img")).to_have_count(5)
    desk.wait_for_timeout(400)
    shown = pixels(desk).astype(float)
    fine = shown.shape[1] / 128
    at = [(np.arange(k) / fine).astype(int) for k in shown.shape[:2]]
    cell = at[0][:, None] * 128 + at[1]
    whole = np.stack(
        [
            np.bincount(cell.ravel(), linear(shown)[..., c].ravel()) / np.bincount(cell.ravel())
            for c in range(3)
        ],
        -1,
    ).reshape(72, 128, 3)
    pick(desk, "Each light's part", "as it is built")
    expect(group.get_by_role("img", name=re.compile(r"^\+ Cabinet"))).to_be_visible()
    desk.wait_for_timeout(400)
    total = linear(strip(desk, r"\+ Cabinet"))
    # Where nothing clips and no edge runs through, the last of the running sum is the frame.
    calm = (whole.max(2) < 0.8) & (np.abs(total - whole).max(2) < 0.2)
    assert calm.mean() > 0.95 and np.abs(total - whole)[calm].mean() < 0.01
    # What the key adds is most on its own side of the face; the unit that is off adds nothing.
    pick(desk, "Each light's part", "what it adds, stops")
    desk.wait_for_timeout(400)
    assert strip(desk, "Key").mean() > 1.5 * strip(desk, "Edge").mean()
    desk.keyboard.press("3")
    desk.keyboard.press("x")
    settled(desk)
    until(desk, lambda: strip(desk, "Edge")[..., 0].max() < 30)


def test_lens_sizes_of_one_setup(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Camera").click()
    wide = pixels(desk)
    pick(desk, "Add a size", re.compile("^close"))
    settled(desk)
    until(desk, lambda: np.abs(pixels(desk).astype(int) - wide).mean() > 3)
    expect(desk.get_by_label("Focal length")).not_to_have_value("50")
    pick(desk, "Look through", re.compile("^A camera, medium"))
    settled(desk)
    until(desk, lambda: np.abs(pixels(desk).astype(int) - wide).mean() < 0.5)
    desk.get_by_role("button", name=re.compile("^Undo Through")).click()
    settled(desk)
    desk.get_by_role("button", name="Remove").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Remove")).to_have_count(0)


def test_a_walk_is_drawn_and_a_school_is_seen_before_it_is_set(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    dark = pixels(desk).mean()
    desk.get_by_role("button", name="See it set: Disc, Fill alone").click()
    expect(desk.get_by_text("As if set for: Disc, Fill alone")).to_be_visible()
    # Set for the fill's weak light, the whole picture opens up; nothing is stored.
    until(desk, lambda: pixels(desk).mean() > dark + 15)
    expect(desk.locator("header [role=status]")).to_have_text("kept")
    desk.get_by_role("button", name="See it set: Disc, Fill alone").click()
    until(desk, lambda: abs(pixels(desk).mean() - dark) < 1)
    pick(desk, "At the meter", "Walk through it")
    pick(desk, "Way", "to camera left")
    desk.get_by_role("button", name="Walk it").click()
    told = desk.get_by_role("status", name="Walked")
    expect(told).to_contain_text("Within ⅓ stop")
    expect(desk.get_by_role("img", name="Acting area and walk")).to_be_visible()
    # A change in the light makes the walk stale: it goes.
    desk.keyboard.press("1")
    desk.keyboard.press(",")
    settled(desk)
    expect(desk.get_by_role("img", name="Acting area and walk")).to_have_count(0)


def test_targets_are_chosen_edited_and_met(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Targets")
    pick(desk, "Profile", "Middle-grey subject")
    skin = desk.get_by_role("group", name="skin on the key side")
    expect(skin).to_contain_text(re.compile("over|under"))
    skin.get_by_role("button", name="Take it there").click()
    expect(skin).to_contain_text("met")
    at = skin.get_by_label("At")
    at.fill("1")
    at.press("Enter")
    expect(skin).to_contain_text("1 under")
    expect(desk.get_by_role("button", name="Profile")).to_contain_text("own")
    # As a most it is met by less.
    skin.get_by_role("button", name=re.compile("^How")).click()
    desk.get_by_role("option", name="at most").click()
    expect(skin).to_contain_text(re.compile("met. Wanted at most"))
    desk.get_by_role("button", name="Name it…").click()
    desk.get_by_label("Name of the profile").fill("Harbour interviews")
    desk.get_by_role("button", name="Keep", exact=True).click()
    settled(desk)
    desk.reload()
    settled(desk)
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Targets")
    expect(desk.get_by_role("button", name="Profile")).to_contain_text("Harbour interviews")


def test_depth_of_field_softens_what_lies_behind_and_follows_the_stop(desk):
    open_copy(desk)
    edge = (0.78, 0.26, 1, 0.56)  # the ledgers on the cabinet, two metres behind
    face = (0.45, 0.21, 0.59, 0.47)

    def sharpness(box):
        seen = part(pixels(desk), *box).astype(float)
        return float(np.abs(np.diff(seen.mean(2), axis=1)).max())

    # Wide open at the same exposure: what lies behind is well off the focus.
    desk.get_by_role("button", name="Camera settings").click()
    pick(desk, "Stop", re.compile(r"^T1\.4$"))
    settled(desk)
    pick(desk, "Exposure index", re.compile(r"^EI 100$"))
    settled(desk)
    crisp, skin = sharpness(edge), part(pixels(desk), *face).astype(int)
    desk.get_by_role("button", name="Draw depth of field").click()
    until(desk, lambda: sharpness(edge) < 0.6 * crisp)
    open_wide = sharpness(edge)
    assert np.abs(part(pixels(desk), *face).astype(int) - skin).mean() < 1.5
    pick(desk, "Stop", re.compile(r"^T16$"))
    settled(desk)
    pick(desk, "Exposure index", re.compile(r"^EI 12800$"))
    settled(desk)
    until(desk, lambda: sharpness(edge) > 1.3 * open_wide)
