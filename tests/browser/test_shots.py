"""The committed screenshots show what the screen shows."""

import io

import numpy as np
import pytest
from PIL import Image

from tests.browser.shots import FOLDER, views
from tests.served import served


def small(image):
    """A picture coarse enough that fonts and noise do not matter, layout and light do."""
    return np.asarray(image.convert("RGB").resize((80, 50), Image.Resampling.BOX), float)


# Nineteen views one after another, and a trial among them: on a slow machine over five minutes.
@pytest.mark.timeout(900)
def test_screenshots_are_current(browser):
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    with served("inkwell_shots_test") as server:
        for name in views(page, server):
            now = small(Image.open(io.BytesIO(page.screenshot())))
            kept = small(Image.open(FOLDER / f"{name}.png"))
            assert np.abs(now - kept).mean() < 4, (
                f"docs/screenshots/{name}.png is out of date: run script/screenshots"
            )
