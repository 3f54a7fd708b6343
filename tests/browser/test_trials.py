"""A trial from an empty list to paper and to a set-up, by the hand alone."""

import csv
import io
import re
import subprocess

from playwright.sync_api import expect

from tests.browser.test_light import pick


def test_heads_are_tried_sorted_printed_and_one_is_rigged(desk, tmp_path):
    own = desk.get_by_role("region", name="Saltmarsh Signal")
    own.get_by_role("link", name="Trials").click()
    expect(desk.get_by_text("No trials yet")).to_be_visible()
    desk.get_by_role("button", name="New trial").click()
    making = desk.get_by_role("dialog")
    rows = making.get_by_role("region", name="Rows")
    for head in ("300 W point head, reflector", "Practical bulb, frosted"):
        rows.get_by_role("checkbox", name=head, exact=True).check()
    columns = making.get_by_role("region", name="Columns")
    columns.get_by_role("button", name=re.compile("^Columns")).click()
    desk.get_by_role("option", name="cloths and rigs").click()
    columns.get_by_role("checkbox", name="as it stands").check()
    columns.get_by_role("checkbox", name="book light", exact=True).check()
    much = making.get_by_role("status", name="How much it is")
    expect(much).to_have_text(re.compile(r"^4 cells, about \d+ s"))
    # A stack of one's own is a column like others, until it is unticked.
    stack = columns.get_by_role("group", name="A stack of cloths")
    expect(stack.get_by_role("button", name="Tick this stack")).to_be_disabled()
    pick(desk, "Next to the lamp", "Light frost")
    pick(desk, "Then", "Full grid cloth")
    stack.get_by_role("button", name="Tick this stack").click()
    mine = columns.get_by_role("checkbox", name="Light frost, then Full grid cloth")
    expect(mine).to_be_checked()
    expect(much).to_have_text(re.compile(r"^6 cells"))
    # Unticked, it is gone.
    mine.click()
    expect(mine).to_have_count(0)
    expect(much).to_have_text(re.compile(r"^4 cells"))
    making.get_by_role("button", name="Run it").click()

    cells = desk.get_by_role("list", name="Cells").get_by_role("button")
    expect(cells).to_have_count(4)
    far = desk.get_by_role("status", name="How far it is")
    expect(far).to_have_text(re.compile("4 of 4 done"))
    # Softest first: every book is softer than every lamp bare.
    pick(desk, "In order of", "softness, half of the light")
    desk.get_by_role("button", name="least first").click()
    names = cells.evaluate_all("(all) => all.map((b) => b.getAttribute('aria-label'))")
    assert "book light" in names[0] and "as it stands" in names[-1]
    assert not [n for n in names if not n.endswith(": done")]
    # A bound leaves what is within it.
    pick(desk, "Only where", "pieces to carry")
    desk.get_by_role("button", name="at least").click()
    desk.get_by_label("Figure").fill("2")
    desk.get_by_label("Figure").press("Enter")
    expect(cells).to_have_count(2)
    pick(desk, "Only where", "all of them")
    # Two are wiped, one is kept in mind.
    cells.first.click()
    page = desk.get_by_role("complementary")
    page.get_by_role("button", name=re.compile("^Wiped against")).click()
    desk.get_by_role("option", name="Practical bulb, frosted, as it stands").click()
    walls = page.get_by_role("img", name=re.compile("^Wall by "))
    expect(walls).to_have_count(2)
    expect(walls.first).to_contain_text("0")
    expect(page.get_by_role("img")).to_have_count(4)
    page.get_by_role("button", name="Keep in mind").click()
    expect(cells.first).to_have_text(re.compile("kept in mind"))
    desk.get_by_role("button", name="Plane").click()
    plane = desk.get_by_role("list", name="lost on the way against softness, half of the light")
    expect(plane.get_by_role("button")).to_have_count(4)

    desk.get_by_role("button", name="Notes").click()
    notes = desk.get_by_role("textbox", name="Notes on this trial")
    notes.fill("The book for the close, the bulb for nothing.")
    desk.get_by_role("button", name="Keep them").click()
    expect(desk.get_by_role("dialog")).to_have_count(0)
    desk.get_by_role("button", name="Notes").click()
    expect(notes).to_have_value(re.compile("^The book for the close"))
    desk.get_by_role("button", name="Leave").click()

    with desk.expect_download() as taken:
        desk.get_by_role("link", name="PDF").click()
    taken.value.save_as(tmp_path / "sheet.pdf")
    told = subprocess.run(
        ["pdftotext", tmp_path / "sheet.pdf", "-"], capture_output=True, text=True, check=True
    ).stdout
    assert "Heads side by side" in told and told.count("level at full") == 4
    with desk.expect_download() as taken:
        desk.get_by_role("link", name="CSV").click()
    taken.value.save_as(tmp_path / "sheet.csv")
    table = list(csv.DictReader(io.StringIO((tmp_path / "sheet.csv").read_text())))
    assert len(table) == 4 and {row["state"] for row in table} == {"done"}

    page.get_by_role("button", name="Rig this one…").click()
    desk.get_by_role("button", name="Rig it").click()
    expect(desk.get_by_text("Mind:").first).to_be_visible()
    desk.get_by_role("button", name="To its desk").click()
    units = desk.get_by_role("region", name="Units")
    expect(units.get_by_role("button", name="Key off", exact=True)).to_be_visible()
    # The book stands in the set-up, not in the trial alone.
    desk.get_by_role("tab", name="Grip").click()
    expect(desk.get_by_role("tabpanel").get_by_label("Name")).to_have_value(re.compile("."))
