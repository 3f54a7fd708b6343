"""What is tried with frames that come in two steps, as they do at the desk: they follow a hand that
moves on, and the committed screenshots show what the screen shows.
"""

import io

import numpy as np
import pytest
from PIL import Image

from tests.browser.shots import FOLDER, views
from tests.browser.test_desk import open_copy
from tests.served import served


@pytest.fixture(scope="module")
def server():
    with served("inkwell_shots_test", frame=320) as running:
        yield running


def small(image):
    """A picture coarse enough that fonts and noise do not matter, layout and light do."""
    return np.asarray(image.convert("RGB").resize((80, 50), Image.Resampling.BOX), float)


# First, while the demo is as it was loaded.
# Nineteen views one after another, and a trial among them: nine minutes alone
# on a slow machine.
@pytest.mark.timeout(1500)
def test_screenshots_are_current(browser, server):
    with browser.new_context(viewport={"width": 1280, "height": 800}) as context:
        page = context.new_page()
        for name in views(page, server):
            now = small(Image.open(io.BytesIO(page.screenshot())))
            kept = small(Image.open(FOLDER / f"{name}.png"))
            assert np.abs(now - kept).mean() < 4, (
                f"docs/screenshots/{name}.png is out of date: run script/screenshots"
            )


HELD = """async () => {
    performance.clearMarks();
    const start = performance.now();
    const coarse = () => performance.getEntriesByName('layer-coarse').length;
    while (performance.now() - start < 60_000 && coarse() < 3) {
        const press = { key: 'ArrowLeft', shiftKey: true, bubbles: true };
        document.body.dispatchEvent(new KeyboardEvent('keydown', press));
        await new Promise((r) => setTimeout(r, 25));
    }
    return [coarse(), performance.getEntriesByName('look-read').length];
}"""


def test_frame_and_meter_follow_while_the_hand_moves_on(desk):
    open_copy(desk)
    # A hand that never rests must not make each frame give way to the next.
    frames, readings = desk.evaluate(HELD)
    assert frames >= 3 and readings >= 2
