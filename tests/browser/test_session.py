"""Nothing lost and nobody shut out: leaving, undoing, signing in again, the history, the shelf."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from tests.browser.test_desk import field, open_copy, settled, unsent
from tests.browser.test_light import pick


def height_of(page, unit="Edge .*fresnel"):
    page.get_by_role("button", name=re.compile(f"^{unit}")).click()
    return field(page, "Over floor")


def status(page):
    return page.locator("header [role=status]")


def test_undo_pressed_twice_at_once_undoes_twice(desk):
    open_copy(desk)
    height = height_of(desk)
    was = height.input_value()
    for value in ("2.20", "2.25"):
        height.fill(value)
        height.press("Enter")
        expect(status(desk)).to_have_text("kept")
    desk.locator("body").click(position={"x": 640, "y": 20})
    desk.keyboard.press("z")
    desk.keyboard.press("z")
    expect(height).to_have_value(was)
    expect(desk.get_by_role("dialog")).to_have_count(0)
    expect(status(desk)).to_have_text("kept")


def test_a_desk_left_right_after_a_key_keeps_what_the_key_did(desk):
    open_copy(desk)
    url = desk.url
    height = height_of(desk)
    desk.locator("body").click(position={"x": 640, "y": 20})
    before = float(height.input_value())
    desk.keyboard.press("PageUp")
    desk.get_by_role("link", name="Inkwell Moth, to the shelf").click()
    desk.goto(url)
    settled(desk)
    assert abs(float(height_of(desk).input_value()) - before - 0.1) < 0.011
    # And so does one whose page is closed right after the key, too busy to be told of it.
    desk.locator("body").click(position={"x": 640, "y": 20})
    desk.evaluate(
        """() => addEventListener("keydown", () => setTimeout(() => {
            for (const start = performance.now(); performance.now() - start < 1500; );
        }))"""
    )
    desk.keyboard.press("PageUp")
    desk.goto("about:blank")
    desk.goto(url)
    settled(desk)
    assert abs(float(height_of(desk).input_value()) - before - 0.2) < 0.011
    expect(desk.get_by_role("dialog")).to_have_count(0)


def test_signed_out_elsewhere_one_signs_in_here_and_the_edits_are_sent(desk, server):
    open_copy(desk)
    height = height_of(desk)
    desk.context.clear_cookies(name="sessionid")
    height.fill("2.27")
    height.press("Enter")
    dialog = desk.get_by_role("dialog", name="Sign in again")
    expect(dialog).to_contain_text("1 edit waits")
    assert len(unsent(desk)) == 1
    dialog.get_by_label("Password of gaffer").fill("not it")
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_contain_text("do not go together")
    dialog.get_by_label("Password of gaffer").fill(server.password)
    dialog.get_by_role("button", name="Sign in").click()
    expect(desk.get_by_role("dialog")).to_have_count(0)
    expect(status(desk)).to_have_text("kept")
    expect(height).to_have_value("2.27")
    assert unsent(desk) == []


def test_theirs_is_taken_and_mine_is_found_in_the_history(desk, browser, server):
    open_copy(desk)
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    other = context.new_page()
    sign_in(other, server)
    other.goto(desk.url)
    settled(other)
    other.get_by_role("button", name=re.compile("^Cabinet (off|on)$")).click()
    settled(other)
    context.close()
    height = height_of(desk)
    height.fill("2.33")
    height.press("Enter")
    expect(desk.get_by_role("heading", name="Somebody was quicker")).to_be_visible()
    desk.get_by_role("button", name="Take theirs").click()
    expect(desk.get_by_role("dialog")).to_have_count(0)
    expect(height).not_to_have_value("2.33")
    desk.get_by_role("link", name="History").click()
    mine = desk.get_by_role("button", name=re.compile("mine, when theirs was taken"))
    expect(mine).to_contain_text("kept beside")
    mine.click()
    expect(desk.get_by_role("img", name=re.compile("The frame after: mine"))).to_be_visible()
    desk.get_by_role("button", name="Bring it back").click()
    settled(desk)
    expect(height_of(desk)).to_have_value("2.33")
    expect(desk.get_by_role("button", name=re.compile("^Undo brought back"))).to_be_visible()


def test_a_fault_of_the_server_is_told_as_one(desk):
    open_copy(desk)
    answer = {
        "status": 500,
        "content_type": "application/problem+json",
        "body": '{"detail": "Something broke."}',
    }
    desk.route(
        "**/api/setups/*",
        lambda r: r.fulfill(**answer) if r.request.method == "PUT" else r.continue_(),
    )
    height = height_of(desk)
    height.fill("2.29")
    height.press("Enter")
    alert = desk.get_by_role("alert")
    expect(alert).to_contain_text("The server answers, but with a fault: Something broke.")
    expect(alert).to_contain_text("1 edit is kept here")
    desk.unroute("**/api/setups/*")
    alert.get_by_role("button", name="Try now").click()
    expect(status(desk)).to_have_text("kept")
    expect(desk.get_by_role("alert")).to_have_count(0)


def test_a_damaged_note_does_not_shut_the_set_up(desk):
    open_copy(desk)
    pk = desk.url.split("/")[-1]
    desk.evaluate(
        """(pk) => new Promise((done) => {
            const opening = indexedDB.open('inkwell-moth');
            opening.onupgradeneeded = () => opening.result.createObjectStore('unsent');
            opening.onsuccess = () => {
                const key = 'gaffer\\n' + pk + '\\ngone';
                const change = opening.result.transaction('unsent', 'readwrite');
                change.objectStore('unsent').put({ queue: 'damaged' }, key);
                change.oncomplete = () => { opening.result.close(); done(); };
            };
        })""",
        pk,
    )
    desk.reload()
    settled(desk)
    expect(desk.get_by_role("alert")).to_contain_text("damaged")
    assert unsent(desk) == []


def test_set_ups_are_copied_renamed_and_put_in_order(desk):
    scene = desk.locator("div.rounded-lg", has=desk.get_by_role("heading", name="Chart store"))
    more = lambda title: scene.get_by_role("button", name=f"More about {title}", exact=True)
    titles = lambda: [t.split("\n")[0] for t in scene.get_by_role("link").all_inner_texts()]
    first = titles()[0]
    more(first).click()
    desk.get_by_role("menuitem", name="Duplicate").click()
    copy = f"{first}, again"
    expect(scene.get_by_role("link", name=re.compile("again"))).to_be_visible()
    more(copy).click()
    desk.get_by_role("menuitem", name="Rename").click()
    desk.get_by_label("Title").fill("Second look")
    desk.get_by_role("button", name="Rename").click()
    expect(scene.get_by_role("link", name=re.compile("^Second look"))).to_be_visible()
    more("Second look").click()
    desk.get_by_role("menuitem", name="Earlier in the scene").click()
    expect(scene.get_by_role("link").first).to_contain_text("Second look")
    more("Second look").click()
    desk.get_by_role("menuitem", name="Delete").click()
    desk.get_by_role("button", name="Delete for good").click()
    expect(scene.get_by_role("link", name=re.compile("^Second look"))).to_have_count(0)
    # No picture was ever black: a skeleton stands there until it is made.
    assert scene.locator("img").first.evaluate("(i) => i.parentElement.className").count("raised")


def test_an_invitation_lets_somebody_new_in(desk, browser, server):
    desk.get_by_role("button", name="More about Saltmarsh Signal").click()
    desk.get_by_role("menuitem", name="People").click()
    desk.get_by_role("button", name=re.compile("Make a link for one editor")).click()
    link = desk.get_by_label("The link").input_value()
    context = browser.new_context()
    page = context.new_page()
    page.goto(link)
    expect(page.get_by_text("gaffer asks you to join as editor")).to_be_visible()
    page.get_by_label("Choose a name").fill("rigger")
    page.get_by_label("Choose a password").fill("12345")
    page.get_by_role("button", name="Join").click()
    expect(page.get_by_role("alert")).to_contain_text("too")
    page.get_by_label("Choose a password").fill("flood-gauge-9x")
    page.get_by_role("button", name="Join").click()
    page.get_by_role("button", name="New production").wait_for()
    page.goto(link)
    expect(page.get_by_text("This invitation was used")).to_be_visible()
    context.close()


def test_many_units_are_dimmed_whitened_and_switched_at_once(desk):
    open_copy(desk)
    rows = desk.get_by_role("region", name="Units")
    rows.get_by_role("button", name=re.compile("^Key .*softbox")).click()
    rows.get_by_role("button", name=re.compile("^Fill .*panel")).click(modifiers=["Shift"])
    group = desk.get_by_role("region", name="Units in hand")
    expect(group).to_contain_text("2 units")
    group.get_by_label("White of all").fill("3,200")
    group.get_by_label("White of all").press("Enter")
    group.get_by_role("button", name="All off").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Key on", exact=True)).to_be_visible()
    expect(desk.get_by_role("button", name="Fill on", exact=True)).to_be_visible()
    rows.get_by_role("button", name=re.compile("^Key .*softbox")).click()
    expect(desk.get_by_role("slider", name="White")).to_have_attribute("aria-valuetext", "3200 K")


def test_what_is_on_a_slider_can_be_typed(desk):
    open_copy(desk)
    dimmer = desk.get_by_role("slider", name="Dimmer")
    dimmer.press("4")
    typed = desk.get_by_label("Dimmer, typed")
    typed.press("2")
    typed.press("Enter")
    expect(dimmer).to_have_attribute("aria-valuetext", re.compile(r"^42 %"))
    settled(desk)
    dimmer.press("Enter")
    typed.fill("nonsense")
    typed.press("Enter")
    expect(dimmer).to_have_attribute("aria-valuetext", re.compile(r"^42 %"))


def test_a_unit_comes_in_at_the_cameras_stop_and_keeps_its_level_under_another_head(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Bring in a unit").click()
    desk.get_by_label("Find by name").fill("1200")
    expect(desk.get_by_role("radio")).to_have_count(1)
    desk.get_by_role("button", name="Bring it in").click()
    row = desk.get_by_role("button", name=re.compile("^Background .*1200 W"))
    expect(row).to_be_visible()
    settled(desk)
    rows = desk.get_by_role("region", name="Units")
    rows.get_by_role("button", name=re.compile("^Key .*softbox")).click()
    level = lambda row: float(re.search(r"([\d.]+) fc", row.inner_text())[1])
    before = level(rows.get_by_role("button", name=re.compile("^Key .*softbox")))
    pick(desk, "Head", re.compile("^600 W point head, reflector"))
    expect(desk.get_by_text("gives the face what it gave before")).to_be_visible()
    settled(desk)
    key = rows.get_by_role("button", name=re.compile("^Key .*600 W"))
    after = level(key)
    assert abs(after / before - 1) < 0.02


def test_units_on_the_plan_are_tab_stops_and_tab_keeps_the_inspectors_page(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Camera").click()
    glyph = desk.get_by_role("button", name="Fill on the plan")
    glyph.focus()
    expect(desk.get_by_role("tab", name="Camera")).to_have_attribute("aria-selected", "true")
    desk.keyboard.press("x")
    expect(desk.get_by_role("button", name="Fill on", exact=True)).to_be_visible()


def test_the_camera_is_carried_round_the_face_without_the_plan_turning_under_the_hand(desk):
    open_copy(desk)
    camera = desk.get_by_role("button", name="Camera on the plan")
    box = camera.locator("circle").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(x, y)
    desk.mouse.down()
    places = []
    for step in range(1, 9):
        desk.mouse.move(x + 6 * step, y)
        desk.wait_for_timeout(60)
        at = camera.locator("circle").bounding_box()
        places.append(at["x"] + at["width"] / 2 - (x + 6 * step))
    desk.mouse.up()
    # The glyph stays under the hand all the way.
    assert max(map(abs, places)) < 3


def test_ten_units_fit_in_the_list_at_1280_by_800(desk):
    open_copy(desk)
    rows = desk.get_by_role("region", name="Units").get_by_role("listitem")
    box = rows.first.bounding_box()
    area = desk.get_by_role("region", name="Units").locator("ol").bounding_box()
    assert area["height"] / box["height"] >= 10
