"""The picture read beside the frame: what is in the way, why, and what is meant so."""

import re

from playwright.sync_api import expect

from tests.browser.test_desk import open_copy, settled
from tests.browser.test_light import pick
from tests.browser.test_place import put


def test_a_key_from_below_is_told_set_aside_with_a_reason_and_taken_up_again(desk):
    open_copy(desk)
    desk.locator("body").press("r")
    rows = desk.get_by_role("list", name="Readings of the picture")
    shape = rows.get_by_role("button", name=re.compile("nose shadow"))
    expect(shape).to_be_visible(timeout=60_000)
    status = desk.get_by_role("status", name="Readings in all")
    expect(status).to_have_text("1 meant so.")
    # The key goes down below the face.
    put(desk, "Above eyes", -34)
    expect(shape).to_have_text(re.compile("from below"), timeout=60_000)
    shape.click()
    expect(desk.get_by_text(re.compile("Light from below turns a face strange"))).to_be_visible()
    marks = desk.get_by_role("group", name="Readings on the frame")
    expect(marks.locator("title", has_text="nose shadow: from below")).to_have_count(1)
    desk.get_by_role("button", name="It is meant so…").click()
    desk.get_by_label("Why it is meant").fill("the stove is the only light")
    desk.get_by_role("button", name="Set it aside").click()
    settled(desk)
    expect(status).to_have_text(re.compile("2 meant so"), timeout=60_000)
    expect(desk.get_by_text("Meant so: the stove is the only light")).to_be_visible()
    expect(marks.locator("title", has_text="nose shadow")).to_have_count(1)
    desk.get_by_role("button", name="Not meant any more").click()
    settled(desk)
    expect(status).to_have_text(re.compile("1 meant so"), timeout=60_000)


def test_a_lost_outline_is_drawn_on_the_frame_and_brought_out_by_a_press(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Subject").click()
    pick(desk, "Wears", re.compile("^black wool"))
    settled(desk)
    desk.get_by_role("tab", name="Room").click()
    for side in ("North", "South", "East", "West"):
        put(desk, f"{side} reflects", 2)
    units = desk.get_by_role("region", name="Units")
    for name in ("Edge", "Globe", "Fill", "Cabinet"):
        units.get_by_role("button", name=f"{name} off", exact=True).click()
    settled(desk)
    desk.locator("body").press("r")
    rows = desk.get_by_role("list", name="Readings of the picture")
    lost = rows.get_by_role("button", name=re.compile("(hair|face|shoulder|arm|neck).*gone", re.S))
    expect(lost.first).to_be_visible(timeout=60_000)
    before = lost.count()
    lost.first.click()
    told = re.compile(
        "shape off the head|face has no end|sets the head afloat|body off the picture"
    )
    expect(desk.get_by_text(told)).to_be_visible()
    marks = desk.get_by_role("group", name="Readings on the frame")
    assert marks.locator("title", has_text=": gone").count() == before
    take = desk.get_by_role("button", name=re.compile(r"^Take .* to \d+ %"))
    if take.count():
        take.click()
        settled(desk)
        expect(lost).not_to_have_count(before, timeout=60_000)
