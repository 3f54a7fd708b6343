"""Exposing and judging in the browser: instruments, curves, flicker, ways to meter, ratios."""

import re

import numpy as np
from playwright.sync_api import expect

from moth.camera import PLAIN
from tests.browser.conftest import pixels
from tests.browser.test_desk import open_copy, settled
from tests.browser.test_light import pick, until

CHEST = (0.40, 0.62, 0.60, 0.95)


def instruments(page):
    page.get_by_role("button", name="Instruments").click()
    expect(page.get_by_role("img", name=re.compile("^Waveform"))).to_be_visible()


def spot(page, key):
    words = (
        page.get_by_role("group", name="Spots", exact=True)
        .locator("p", has_text=re.compile(f"^{key} \\d"))
        .inner_text()
    )
    code, stops, nits = re.match(r"\w (\d+) % ([+−][\d.]+) st · ([\d.]+) cd", words).groups()
    return float(code) / 100, float(stops.replace("−", "-")), float(nits)


def test_spots_tell_the_signal_by_the_curve(desk):
    open_copy(desk)
    instruments(desk)
    for key in "AB":
        desk.get_by_role("button", name=f"Set spot {key}").click()
    group = desk.get_by_role("group", name="Spots", exact=True)
    expect(group).to_contain_text(":1")
    code, stops, _ = spot(desk, "A")
    assert (
        code == np.round(PLAIN["bt709"].encode(0.18 * 2**stops), 2)
        or abs(code - PLAIN["bt709"].encode(0.18 * 2**stops)) < 0.02
    )
    # Carried by keys, it reads another place; put away, it is silent.
    desk.get_by_role("button", name="Spot A", exact=True).focus()
    for _ in range(12):
        desk.keyboard.press("ArrowDown")
    until(desk, lambda: abs(spot(desk, "A")[1] - stops) > 0.3)
    desk.get_by_role("button", name="Spot A away").click()
    expect(group.locator("p", has_text=re.compile("^A \\d"))).to_have_count(0)


def test_instruments_follow_the_hand(desk):
    open_copy(desk)
    instruments(desk)
    desk.get_by_role("button", name="Set spot A").click()
    before = spot(desk, "A")
    # Three thirds of the key's dimmer: the key side loses nearly a stop, at once.
    for _ in range(3):
        desk.keyboard.press(",")
    until(desk, lambda: spot(desk, "A")[1] < before[1] - 0.5)
    assert spot(desk, "A")[2] < 0.75 * before[2]


def test_lines_of_ones_own_stay_on_the_waveform(desk):
    open_copy(desk)
    instruments(desk)
    settled(desk)
    desk.get_by_role("button", name="Add a line").click()
    line = desk.get_by_role("slider", name="Line 1")
    expect(line).to_have_text(re.compile("^60 %, \\d+ over$"))
    line.focus()
    desk.keyboard.press("Shift+ArrowDown")
    expect(line).to_have_attribute("aria-valuetext", "55 %")
    # By hand to a quarter of the waveform's height, where more of the picture lies over it.
    box = desk.get_by_role("img", name=re.compile("^Waveform")).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + 0.45 * box["height"]
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x, box["y"] + 0.8 * box["height"], steps=4)
    desk.mouse.up()
    expect(line).to_have_attribute("aria-valuetext", re.compile("^(19|20|21) %$"))
    desk.reload()
    settled(desk)
    expect(line).to_have_attribute("aria-valuetext", re.compile("^(19|20|21) %$"))
    line.focus()
    desk.keyboard.press("Delete")
    expect(line).to_have_count(0)


def test_the_picture_in_bands_keeps_to_its_legend(desk):
    open_copy(desk)
    instruments(desk)
    settled(desk)
    plain = pixels(desk)
    pick(desk, "Picture", "bands of stops")
    legend = desk.get_by_role("group", name="Bands")
    expect(legend).to_contain_text("middle grey")
    desk.wait_for_timeout(300)
    banded = pixels(desk)
    colours = {tuple(map(int, c)) for c in banded[banded.max(2) != banded.min(2)]}
    # Seven bands, and the ink of two patterns.
    assert (150, 140, 118) in colours and len(colours) <= 9 and not (plain == banded).all()
    stone = (banded == (150, 140, 118)).all(2)
    # What is painted as middle grey is so in the plain picture: 41 % and a quarter of a stop about
    # it.
    grey = plain[stone].astype(float) @ [0.2126, 0.7152, 0.0722] / 255
    assert np.percentile(grey, 5) > 0.35 and np.percentile(grey, 95) < 0.46
    legend.get_by_role("button", name="Move the edges…").click()
    field = legend.get_by_label("middle grey from")
    field.fill("-2")
    field.press("Enter")
    desk.wait_for_timeout(300)
    assert (pixels(desk) == (150, 140, 118)).all(2).sum() > 1.5 * stone.sum()
    legend.get_by_role("button", name="Put them back").click()
    desk.wait_for_timeout(300)
    assert abs(int((pixels(desk) == (150, 140, 118)).all(2).sum()) - int(stone.sum())) < 50


def test_curves_bend_the_recorded_picture_and_a_bad_log_is_refused(desk):
    open_copy(desk)
    instruments(desk)
    settled(desk)
    desk.get_by_role("tab", name="Camera").click()
    pick(desk, "Curve", "Log, by its figures")
    expect(desk.get_by_role("img", name=re.compile("^Waveform, Log, grey 40 %"))).to_be_visible()
    plain = pixels(desk).astype(int)
    pick(desk, "Picture", "as recorded")
    until(desk, lambda: pixels(desk).astype(int)[:200].mean() != plain[:200].mean())
    flat = pixels(desk).astype(int)
    assert flat.std() < plain.std() and flat.max() < plain.max()
    over = desk.get_by_label("Over grey")
    over.fill("1")
    over.press("Enter")
    grey = desk.get_by_label("Grey at")
    grey.fill("12")
    grey.press("Enter")
    expect(desk.get_by_text("No log curve has its middle grey so placed")).to_be_visible()
    assert grey.input_value() == "12"


def test_noise_is_drawn_in_the_shadows_and_grows_with_the_index(desk):
    open_copy(desk)
    settled(desk)
    still = pixels(desk).astype(int)
    instruments(desk)
    desk.get_by_role("tab", name="Camera").click()
    pick(desk, "Exposure index", "EI 12800")
    settled(desk)
    pick(desk, "Stop", re.compile("^T16$"))
    settled(desk)
    desk.wait_for_timeout(500)
    calm = pixels(desk).astype(int)
    desk.get_by_role("button", name="Draw noise").click()
    desk.wait_for_timeout(500)
    rough = pixels(desk).astype(int)
    assert (rough - calm).std() > 0.4 and abs((rough - calm).mean()) < 1.5
    assert still.shape == rough.shape


def test_a_shutter_that_pulses_is_named_and_mended(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Camera").click()
    expect(desk.get_by_text(re.compile("^60 Hz:"))).to_be_visible()
    desk.get_by_role("button", name="1/60 s, 150.0°").click()
    expect(desk.get_by_text(re.compile("^60 Hz:"))).to_have_count(0)
    # At 25 frames a second 50 Hz mains give every frame four whole pulses, at whatever shutter.
    expect(desk.get_by_text("No lamp on 50 or 60 Hz mains pulses")).to_be_visible()


def test_a_ratio_is_set_and_what_cannot_be_is_explained(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Ratios")
    panel = desk.get_by_role("region", name="Set the ratio")
    ratio = panel.get_by_role("textbox", name="Ratio")
    ratio.fill("2.5")
    ratio.press("Enter")
    panel.get_by_role("button", name="Set", exact=True).click()
    expect(panel.get_by_role("status")).to_contain_text("Fill at")
    expect(desk.get_by_label("Key-to-fill ratio")).to_have_text("2.5 : 1")
    desk.keyboard.press("Escape")
    ratio.fill("60")
    ratio.press("Enter")
    panel.get_by_role("button", name="Set", exact=True).click()
    expect(panel.get_by_role("status")).to_contain_text("cannot do it")
    expect(panel.get_by_role("status")).to_contain_text(re.compile("would"))
    expect(desk.get_by_label("Key-to-fill ratio")).to_have_text("2.5 : 1")


def test_setting_a_school_puts_its_reading_on_the_camera(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    row = desk.get_by_role("group", name="Toward the key")
    row.get_by_role("button", name=re.compile("^Set T")).click()
    expect(row).to_contain_text(", 0 on the camera")
    expect(row).to_contain_text("If set: key side 0")
    # By ND instead: the stop stays.
    pick(desk, "Set it by", re.compile("^ND$"))
    shade = desk.get_by_role("group", name="Shadow side, to the lens")
    expect(shade.get_by_role("button", name=re.compile("^Set (no )?ND"))).to_be_visible()


def test_the_level_card_is_read_and_taken_along(desk, tmp_path):
    open_copy(desk)
    desk.get_by_role("button", name="Level card").click()
    card = desk.get_by_role("dialog", name="Level card")
    expect(card.get_by_role("row", name=re.compile("^Key"))).to_contain_text("camera left")
    for kind, start in (("Page to print (PDF)", b"%PDF"), ("Table (CSV)", b"Unit,Part")):
        with desk.expect_download() as download:
            card.get_by_role("link", name=kind).click()
        download.value.save_as(tmp_path / "card")
        assert (tmp_path / "card").read_bytes().startswith(start)
    card.get_by_role("button", name="Done").click()
    expect(card).to_have_count(0)
