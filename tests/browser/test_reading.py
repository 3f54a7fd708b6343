"""The picture read beside the frame: what is in the way, why, and what is meant so."""

import re

from playwright.sync_api import expect

from tests.browser.test_desk import open_copy, settled
from tests.browser.test_light import pick
from tests.browser.test_place import put


def unfold(rows, kind):
    rows.get_by_role("button", name=re.compile(rf"^{kind} \d+$")).click()


def test_a_key_from_below_is_told_set_aside_with_a_reason_and_taken_up_again(desk):
    open_copy(desk)
    desk.locator("body").press("r")
    rows = desk.get_by_role("list", name="Readings of the picture")
    shape = rows.get_by_role("button", name=re.compile("nose shadow"))
    # What asks for nothing is folded, a kind at a time.
    unfold(rows, "Face")
    expect(shape).to_be_visible()
    status = desk.get_by_role("status", name="Readings in all")
    expect(status).to_have_text("Nothing in the way.")
    # The key goes down below the face.
    put(desk, "Above eyes", -34)
    expect(shape).to_have_text(re.compile("from below"))
    shape.click()
    expect(desk.get_by_text(re.compile("Light from below turns a face strange"))).to_be_visible()
    # How it was found is drawn on the frame, and taken off again.
    lines = desk.get_by_role("img", name="How nose shadow was found")
    desk.get_by_role("button", name="Draw how it was found").click()
    expect(lines.locator("path")).not_to_have_count(0)
    said = desk.get_by_role("list", name="How it was found")
    expect(said).to_contain_text(re.compile(r"toward the key, \d+° off where the face looks"))
    desk.get_by_role("button", name="Take the lines off").click()
    expect(lines).to_have_count(0)
    marks = desk.get_by_role("group", name="Readings on the frame")
    expect(marks.locator("title", has_text="nose shadow: from below")).to_have_count(1)
    desk.get_by_role("button", name="It is meant so…").click()
    desk.get_by_label("Why it is meant").fill("the stove is the only light")
    desk.get_by_role("button", name="Set it aside").click()
    settled(desk)
    expect(status).to_have_text(re.compile("1 meant so"))
    expect(desk.get_by_text("Meant so: the stove is the only light")).to_be_visible()
    expect(marks.locator("title", has_text="nose shadow")).to_have_count(1)
    desk.get_by_role("button", name="Not meant any more").click()
    settled(desk)
    expect(status).not_to_contain_text("meant so")


def test_a_lost_outline_is_drawn_on_the_frame_and_brought_out_by_a_press(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Subject").click()
    pick(desk, "Wears", re.compile("^black"))
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
    expect(lost.first).to_be_visible()
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
        expect(lost).not_to_have_count(before)


def test_what_would_mend_it_is_tried_shown_and_taken_with_what_it_costs(desk):
    open_copy(desk)
    put(desk, "Above eyes", -34)
    settled(desk)
    desk.get_by_role("button", name="What the frame does").click()
    rows = desk.get_by_role("list", name="Readings of the picture")
    shape = rows.get_by_role("button", name=re.compile("nose shadow"))
    expect(shape).to_have_text(re.compile("from below"))
    shape.click()
    desk.get_by_role("button", name="Try what would mend it").click()
    found = desk.get_by_role("group", name="What would mend it")
    expect(found.get_by_role("status")).to_have_text(re.compile(r"\d of \d+ tried mends? it"))
    expect(found.get_by_role("img", name="before: from below").first).to_be_visible()
    told = found.get_by_text(re.compile(r"^Key \d+° higher: ")).first
    word = told.locator("b").inner_text()
    assert word != "from below"
    assert found.get_by_text(re.compile("^Costs: |^Nothing that was well is lost")).count()
    found.get_by_role("button", name="Take it").first.click()
    settled(desk)
    expect(rows.get_by_role("button", name=re.compile("from below"))).to_have_count(0)
    # One undo brings it back.
    desk.get_by_role("button", name=re.compile("^Undo Key")).click()
    settled(desk)
    expect(shape).to_have_text(re.compile("from below"))


def test_a_sweep_of_the_camera_goes_where_it_is_pressed(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Sweep one thing").click()
    row = desk.get_by_role("group", name="Sweep")
    expect(row).to_have_attribute("aria-busy", "false")
    steps = row.get_by_role("button", name=re.compile("^Go to "))
    assert steps.count() == 9
    expect(row.get_by_role("button", name="Go to as it is")).to_be_enabled()
    desk.get_by_role("tab", name="Camera").click()
    nose = desk.get_by_role("slider", name="Off the nose")
    before = float(nose.get_attribute("aria-valuenow"))
    row.get_by_role("button", name="Go to +15°").click()
    settled(desk)
    assert abs(abs(float(nose.get_attribute("aria-valuenow")) - before) - 15) < 1.01
    expect(row.get_by_role("button", name="From here again")).to_be_visible()
    pick(desk, "Sweep", "unit's height")
    expect(row).to_have_attribute("aria-busy", "false")
    assert steps.count() == 7
    pick(desk, "Sweep", "unit's level")
    expect(row).to_have_attribute("aria-busy", "false")
    assert steps.count() == 8
    row.get_by_role("button", name="Go to 50 %").click()
    settled(desk)
    desk.get_by_role("tab", name="Unit").click()
    expect(desk.get_by_role("slider", name="Dimmer")).to_have_attribute(
        "aria-valuetext", re.compile("^50 %")
    )
    desk.get_by_role("button", name="Sweep one thing").click()
    expect(row).to_have_count(0)


def test_wishes_are_looked_for_shown_with_frames_and_taken_by_a_press(desk):
    open_copy(desk)
    desk.locator("body").press("r")
    desk.get_by_role("button", name="Ask for it…").click()
    sheet = desk.get_by_role("dialog")
    sheet.get_by_label("nose shadow").check()
    sheet.get_by_label("reads all round").uncheck()
    sheet.get_by_role("button", name="Look for it").click()
    expect(sheet.get_by_role("button", name="Stop")).to_be_visible()
    expect(sheet.get_by_role("button", name="Look for it")).to_be_visible()
    expect(sheet.get_by_role("status")).to_have_text(re.compile("14 of 14 places looked at"))
    answers = sheet.get_by_role("list", name="Answers").locator("> li")
    assert answers.count() == 3
    best = answers.first
    expect(best.get_by_role("img", name=re.compile("^the frame: "))).to_be_visible()
    loop = best.get_by_text("met: loop").count()
    best.get_by_role("button", name="Take it").click()
    expect(sheet).to_have_count(0)
    settled(desk)
    rows = desk.get_by_role("list", name="Readings of the picture")
    if loop:
        unfold(rows, "Face")
        shape = rows.get_by_role("button", name=re.compile("nose shadow"))
        expect(shape).to_have_text(re.compile("loop"))
    desk.get_by_role("button", name=re.compile("^Undo asked for")).click()
    settled(desk)


def test_a_reason_a_limit_and_a_microphone_are_said_to_the_desk_and_read(desk):
    open_copy(desk)
    desk.locator("body").press("r")
    rows = desk.get_by_role("list", name="Readings of the picture")
    unfold(rows, "Reasons for light")
    key = rows.get_by_role("button", name=re.compile("Key.*(explained|reason|colour)"))
    key.click()
    own = desk.get_by_role("group", name="Light from outside the frame")
    own.get_by_role("button", name=re.compile("It comes, outside the frame")).click()
    desk.get_by_role("option", name="fire").click()
    settled(desk)
    expect(key).to_have_text(re.compile("another colour"))
    own.get_by_label("White").fill("5000")
    own.get_by_label("White").press("Enter")
    settled(desk)
    expect(key).to_have_text(re.compile("explained"))
    own.get_by_label("From north").fill(
        str(int(own.get_by_label("From north").input_value()) + 180)
    )
    own.get_by_label("From north").press("Enter")
    settled(desk)
    expect(key).to_have_text(re.compile("against its reason"))
    own.get_by_role("button", name="Take a fire back").click()
    settled(desk)
    expect(own.get_by_label("White")).to_have_count(0)

    # A limit of the set-up's own, then as typical.
    desk.get_by_role("button", name="Limits…").click()
    limit = desk.get_by_label("Limit: lit skin is hot over middle grey from")
    limit.fill("-1")
    limit.press("Enter")
    again = desk.get_by_role("button", name="As typical")
    expect(again).to_be_visible()
    desk.get_by_role("button", name="Close").click()
    hot = rows.get_by_role("button", name=re.compile("lit side of the face.*hot", re.S))
    expect(hot).to_be_visible()
    desk.get_by_role("button", name="Limits…").click()
    again.click()
    desk.get_by_role("button", name="Close").click()
    expect(hot).to_have_count(0)

    # The microphone hears the key's fan, and no more when it hangs in the next room.
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Sound")
    desk.get_by_role("button", name="Over the person").click()
    fans = desk.get_by_role("list", name="Fans at the microphone")
    expect(fans).to_have_text(re.compile(r"Key: fan heard, \d+ dB\(A\)"))
    heard = rows.get_by_role("button", name=re.compile("Key.*fan heard", re.S))
    expect(heard).to_be_visible()
    put(desk, "From west", 40)
    expect(fans).to_have_text(re.compile("Quiet: not heard"))
    expect(heard).to_have_count(0)
    desk.get_by_role("button", name="Take it away").click()
    expect(fans).to_have_count(0)


def test_a_target_is_set_in_percent_and_the_ways_to_meter_stand_side_by_side(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Targets")
    pick(desk, "Profile", re.compile("^Middle-grey subject"))
    skin = desk.get_by_role("group", name="skin on the key side")
    expect(skin.get_by_text(re.compile("Wanted about 41 %"))).to_be_visible()
    skin.get_by_role("button", name=re.compile("^In ")).click()
    desk.get_by_role("option", name="%").click()
    field = skin.get_by_label("At", exact=True)
    expect(field).to_have_value("41")
    field.fill("90")
    field.press("Enter")
    expect(skin.get_by_text(re.compile(r"Wanted about \+2\.\d stops"))).to_be_visible()
    skin.get_by_role("button", name=re.compile("^In ")).click()
    desk.get_by_role("option", name="st").click()
    expect(field).to_have_value(re.compile(r"^2\.\d$"))

    pick(desk, "At the meter", "Ways to meter")
    desk.get_by_role("button", name="All ways side by side").click()
    sweep = desk.get_by_role("group", name="Sweep")
    shaded = sweep.get_by_role("button", name="Go to shade, key shaded")
    expect(shaded).to_be_enabled()
    expect(sweep.get_by_role("button", name="Go to key side")).to_be_enabled()
    expect(shaded).to_have_text(re.compile(r"face \+\d"))
    shaded.click()
    settled(desk)
    marks = desk.get_by_role("region", name="Readings")
    row = marks.get_by_role("row", name=re.compile("fill side, key shaded off"))
    expect(row).to_have_text(re.compile("0$"))


def test_room_to_move_is_told_of_each_move_anew_when_the_hand_rests(desk):
    open_copy(desk)
    desk.locator("body").press("r")
    own = desk.get_by_role("button", name="Room to move")
    own.click()
    room = desk.get_by_role("group", name="Room to move")
    expect(room).to_have_attribute("aria-busy", "false")
    moves = room.get_by_role("button", name=re.compile("^(leans|camera|head|stands)"))
    expect(moves).to_have_count(7)
    expect(own).to_contain_text(re.compile(r"of 7 keep the light|the light keeps"))
    moves.nth(1).click()
    expect(room.get_by_role("img", name="leans in: the picture")).to_be_visible()
    moves.nth(1).click()
    # With the key near, who leans in is brighter by more, and it is told without being asked.
    before = moves.all_text_contents()
    put(desk, "To the face", 0.9)
    settled(desk)
    expect(room).to_have_attribute("aria-busy", "true")
    expect(room).to_have_attribute("aria-busy", "false")
    assert moves.all_text_contents() != before
    # Stopped by hand it says what is left.
    put(desk, "To the face", 2.4)
    desk.get_by_role("button", name="Stop", exact=True).click()
    expect(room.get_by_role("status")).to_contain_text("not tried")
    own.click()
    expect(room).to_have_count(0)
