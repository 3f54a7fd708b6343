"""How things are held and aimed: aims and cameras that go along, stands, flags and boards found."""

import re

import numpy as np
from playwright.sync_api import expect

from tests.browser.conftest import came, pixels
from tests.browser.test_desk import level, open_copy, settled
from tests.browser.test_light import pick, until


def stored(page):
    """The document as the server has it."""
    link = page.url.rsplit("/", 1)[1]
    return page.evaluate(
        "async (n) => (await (await fetch(`/api/setups/${n}`)).json()).document", link
    )


def put(page, label, value):
    field = page.get_by_label(label, exact=True)
    field.fill(str(value))
    field.press("Enter")
    settled(page)


def unit(document, name):
    return next(u for u in document["units"] if u["name"] == name)


def test_an_aim_goes_along_with_whom_it_is_on_and_a_camera_turns_after_them(desk):
    open_copy(desk)
    desk.keyboard.press("1")
    pick(desk, "Aimed at", "the face")
    settled(desk)
    goes = desk.get_by_role("button", name="Goes along")
    expect(goes).to_have_attribute("aria-pressed", "true")
    desk.get_by_role("tab", name="Camera").click()
    pick(desk, "When the subject moves", "it turns along")
    settled(desk)
    before = stored(desk)
    desk.get_by_role("tab", name="Subject").click()
    pick(desk, "Pose", "standing" if before["figures"][0]["pose"] == "seated" else "seated")
    settled(desk)
    after = stored(desk)
    by = [
        [b - a for a, b in zip(one["aim"], other["aim"], strict=True)]
        for one, other in (
            (unit(before, "Key"), unit(after, "Key")),
            (before["cameras"][0], after["cameras"][0]),
        )
    ]
    # Both went with the eyes, as far; the fill, which is not kept there, did not.
    assert abs(by[0][2]) > 0.3 and abs(by[0][2] - by[1][2]) < 1e-6
    assert after["cameras"][0]["position"] == before["cameras"][0]["position"]
    assert unit(after, "Fill")["aim"] == unit(before, "Fill")["aim"]
    desk.keyboard.press("z")
    settled(desk)
    assert unit(stored(desk), "Key")["aim"] == unit(before, "Key")["aim"]


def test_a_rolled_camera_tilts_the_picture_and_not_the_light(desk):
    open_copy(desk)
    was, chin = pixels(desk).astype(int), level(desk)
    desk.get_by_role("tab", name="Camera").click()
    put(desk, "Roll (right hand up +)", 180)
    now = pixels(desk).astype(int)
    assert abs(now - was).mean() > 10
    assert abs(now[::-1, ::-1] - was).mean() < 3
    assert abs(level(desk) / chin - 1) < 0.01


def test_a_board_gets_a_stand_a_boom_and_what_is_to_be_minded(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Grip").click()
    pick(desk, "Bring in", re.compile("^Board"))
    settled(desk)
    stand = desk.get_by_role("img", name="Stand of Board")
    expect(stand).to_have_count(1)
    expect(desk.get_by_text(re.compile("kg a square metre: the widest leg"))).to_be_visible()
    pick(desk, "Held by", "a boom over a stand")
    settled(desk)
    expect(desk.get_by_text(re.compile(r"of arm want [\d.]+ kg at a short end"))).to_be_visible()
    held = stored(desk)["grip"][-1]
    assert held["held"] == "boom" and held["foot"]
    # Carried, its stand comes along.
    put(desk, "To the face", 1.6)
    far = stored(desk)["grip"][-1]
    moved = [b - a for a, b in zip(held["position"][:2], far["position"][:2], strict=True)]
    foot = [b - a for a, b in zip(held["foot"], far["foot"], strict=True)]
    assert max(abs(a - b) for a, b in zip(moved, foot, strict=True)) < 0.01 < max(map(abs, moved))
    pick(desk, "Held by", "hung from above")
    settled(desk)
    expect(stand).to_have_count(0)
    expect(desk.get_by_text(re.compile("ask first whether that bears it"))).to_be_visible()


def test_one_stand_holds_lamp_board_and_cloth_and_carries_them(desk):
    open_copy(desk)
    pick(desk, "In one move", "Make it a book light on one stand")
    settled(desk)
    key = unit(stored(desk), "Key")
    board, cloth = stored(desk)["grip"][-2:]
    assert board["bearer"] == cloth["bearer"] == key["id"]
    expect(desk.get_by_text(re.compile(r"Its stand bears 3 things, [\d.]+ kg"))).to_be_visible()
    expect(desk.get_by_role("img", name="Arm of Key, cloth of the book")).to_have_count(1)
    # Carried, the whole of it goes along; one undo brings all of it back.
    put(desk, "To the face", 2.6)
    now = stored(desk)
    by = np.subtract(unit(now, "Key")["position"], key["position"])[:2]
    assert np.hypot(*by) > 0.05
    for old, new in zip((board, cloth), now["grip"][-2:], strict=True):
        assert np.allclose(np.subtract(new["position"], old["position"])[:2], by, atol=2e-3)
        assert np.allclose(np.subtract(new["foot"], old["foot"]), by, atol=2e-3)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    settled(desk)
    assert stored(desk)["grip"][-1]["position"] == cloth["position"]
    # Its board, now in hand, is let go, and what no arm reaches is told.
    desk.get_by_role("tab", name="Grip").click()
    put(desk, "To the face", 0.7)
    expect(desk.get_by_role("alert").filter(has_text="No arm reaches so far")).to_be_visible()
    pick(desk, "Held by", "stands at its sides")
    came(desk, lambda: stored(desk)["grip"][-2]["bearer"] == "")
    pick(desk, "Held by", "an arm on a unit's stand")
    pick(desk, "On the stand of", "Fill")
    fill = unit(stored(desk), "Fill")["id"]
    came(desk, lambda: stored(desk)["grip"][-2]["bearer"] == fill)


def behind(page):
    return level(page, "backdrop behind")


def test_a_flag_is_found_that_keeps_the_key_off_the_wall(desk):
    open_copy(desk)
    wall, chin = behind(desk), level(desk)
    desk.get_by_role("tab", name="Grip").click()
    desk.get_by_role("button", name="Find a flag").click()
    said = desk.get_by_text(re.compile(r"^Key, flag .*: the backdrop loses .* of Key"))
    expect(said).to_be_visible()
    until(desk, lambda: behind(desk) < 0.85 * wall)
    assert abs(level(desk) / chin - 1) < 0.08
    # It can be told off the furniture as well, and what cannot be is said.
    expect(desk.get_by_text(re.compile("A black frame is a sail too"))).to_be_visible()
    desk.keyboard.press("z")
    until(desk, lambda: abs(behind(desk) / wall - 1) < 0.02)


def ratio(page):
    text = page.get_by_role("region", name="Readings", exact=True).inner_text()
    return float(re.search(r"([\d.]+)\s*:\s*1", text).group(1))


def test_a_board_is_brought_in_for_a_ratio(desk):
    open_copy(desk)
    now = ratio(desk)
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Ratios")
    pick(desk, "With", re.compile("a board, camera right"))
    wanted = round(0.85 * now, 1)
    field = desk.get_by_label("Ratio", exact=True)
    field.fill(str(wanted))
    field.press("Enter")
    desk.get_by_role("button", name="Set", exact=True).click()
    said = desk.get_by_text(re.compile(r"^White board, camera right, .* from the face for"))
    expect(said).to_be_visible()
    until(desk, lambda: abs(ratio(desk) - wanted) < 0.15)
    assert stored(desk)["grip"][-1]["name"] == "White board, camera right"
    # What no board does is told, and the looking can be stopped.
    field.fill("40")
    field.press("Enter")
    desk.get_by_role("button", name="Set", exact=True).click()
    expect(desk.get_by_label("Boards tried")).to_be_visible()
    desk.get_by_role("button", name="Stop", exact=True).click()
    expect(desk.get_by_label("Boards tried")).to_have_count(0)
    assert len(stored(desk)["grip"]) == 1


def test_which_heads_reach_the_stop_and_one_of_them_comes_in(desk):
    open_copy(desk)
    units = len(stored(desk)["units"])
    desk.get_by_role("tab", name="Meter").click()
    pick(desk, "At the meter", "Which heads reach")
    table = desk.get_by_role("region", name="Which heads reach")
    row = table.get_by_role("row", name=re.compile("^600 W point head"))

    def bare():
        return float(re.search(r"([\d.]+) m", row.get_by_role("cell").first.inner_text())[1])

    expect(row).to_be_visible()
    far = bare()
    # Two stops over: half as far.
    field = table.get_by_label("Over the camera's stop")
    field.fill("2")
    field.press("Enter")
    expect(row.get_by_role("cell").first).not_to_have_text(re.compile(f"^{far:.1f}"))
    assert abs(bare() / far - 0.5) < 0.02
    table.get_by_role("button", name="Bring in 600 W point head, reflector").click()
    settled(desk)
    assert len(stored(desk)["units"]) == units + 1


def test_a_mirror_stays_between_its_lamp_and_the_face(desk):
    open_copy(desk)
    desk.keyboard.press("1")
    desk.get_by_role("tab", name="Grip").click()
    pick(desk, "Bring in", "Mirror")
    keep = desk.get_by_role("button", name="Keep between")
    keep.click()
    settled(desk)
    expect(desk.get_by_role("button", name="Kept on Key")).to_be_visible()

    def unit_way(to, start):
        way = np.subtract(to, start)
        return way / np.linalg.norm(way)

    def thrown():
        """The way that the key's light leaves the mirror, and the way to the face from it."""
        document = stored(desk)
        (glass,) = document["grip"]
        assert glass["throws"] == "unit:key"
        front = unit_way(glass["aim"], glass["position"])
        lamp = unit_way(unit(document, "Key")["position"], glass["position"])
        face = [*document["figures"][0]["position"], 1.26]
        return 2 * (lamp @ front) * front - lamp, unit_way(face, glass["position"])

    leaves, to_face = thrown()
    assert leaves @ to_face > 0.99
    before = stored(desk)["grip"][0]["aim"]
    # The key is carried round the face: the mirror turns after it.
    desk.keyboard.press("1")
    for _ in range(4):
        desk.keyboard.press("ArrowLeft")
    settled(desk)
    leaves, to_face = thrown()
    assert leaves @ to_face > 0.99
    assert np.abs(np.subtract(stored(desk)["grip"][0]["aim"], before)).max() > 0.02
    # Turned by hand it lets go.
    desk.get_by_role("tab", name="Grip").click()
    desk.get_by_role("button", name="Turn left").click()
    settled(desk)
    expect(keep).to_be_visible()
    assert stored(desk)["grip"][0]["throws"] == ""
