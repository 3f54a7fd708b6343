import base64
import os
import time

import numpy as np
import pytest
from playwright.sync_api import expect

from moth.judging import SIZE
from tests.served import CHROMIUM, served

# Milliseconds that a test waits for what it expects. What comes at all comes sooner: this bounds
# what never comes, on a machine that may be several times as slow as this, and is the one bound.
PATIENCE = 300_000
expect.set_options(timeout=PATIENCE)
WIDE = SIZE[0]
"""Of a frame [px]."""


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return CHROMIUM


@pytest.fixture(scope="session")
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def server():
    # Each of the runs side by side has a server and a database of its own. Tests here are not about
    # the picture's finest points: its first layers are its last. Finer ones after them are tried in
    # test_shots.
    name = f"inkwell_browser_{os.environ.get('PYTEST_XDIST_WORKER', 'test')}"
    with served(name, frame=WIDE) as running:
        yield running


# Counts what the page has asked and not been answered, but for what it works out for itself after
# each gesture, whose part of the screen says so.
_COUNTING = """
globalThis.underWay = 0;
const fetching = globalThis.fetch;
globalThis.fetch = async (asked, ...more) => {
    const counts = !/\\/(inspect|judge|map)$/.test(asked.url ?? asked);
    if (counts) globalThis.underWay += 1;
    try {
        return await fetching(asked, ...more);
    } finally {
        if (counts) globalThis.underWay -= 1;
    }
};
"""


@pytest.fixture(scope="module")
def signed_in(server, browser):
    """The cookies of the gaffer, who signed in once a file: one file has a server of its own."""
    with browser.new_context() as context:
        sign_in(context.new_page(), server)
        yield context.cookies()


def set_ups(page, server):
    """Ids of all that the gaffer may see."""
    productions = page.request.get(f"{server.url}/api/productions").json()
    return {card["id"] for p in productions for scene in p["scenes"] for card in scene["setups"]}


@pytest.fixture
def desk(page, server, signed_in):
    """A page at which the gaffer has signed in; faults in the page fail the test.

    Set-ups that a test made go with it: the page that each test begins at asks for the pictures of
    all there are, and the engine would draw, for every test, the last state of the one before.
    """
    faults = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.set_default_timeout(PATIENCE)
    page.context.add_cookies(signed_in)
    before = set_ups(page, server)
    page.add_init_script(_COUNTING)
    page.goto(server.url)
    page.get_by_role("heading", name="Saltmarsh Signal").wait_for()
    yield page
    page.context.clear_cookies()
    page.context.add_cookies(signed_in)
    token = page.request.get(f"{server.url}/api/session").json()["csrf"]
    for made in set_ups(page, server) - before:
        page.request.delete(f"{server.url}/api/setups/{made}", headers={"X-CSRFToken": token})
    assert not faults


def sign_in(page, server, name="gaffer"):
    page.goto(server.url)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(server.password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Saltmarsh Signal").wait_for()


def holds(page, condition, arg=None):
    """Wait until a function of JavaScript says yes."""
    # Not asked at each drawing of the page, as is usual: that keeps it drawing.
    page.wait_for_function(condition, arg=arg, polling=100)


def came(page, condition):
    """Wait until something holds that the page itself does not say."""
    end = time.monotonic() + PATIENCE / 1000
    while not condition():
        assert time.monotonic() < end, "it did not come"
        page.wait_for_timeout(150)


FRAME = "canvas[aria-label^='The camera']"
# As text: a million numbers, one by one, take the browser's door seconds.
_CODES = """(canvas) => {
    const codes = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data;
    let text = '';
    for (let k = 0; k < codes.length; k += 32768)
        text += String.fromCharCode(...codes.subarray(k, k + 32768));
    return [canvas.height, canvas.width, btoa(text)];
}"""


def pixels(page, canvas=None):
    """Codes of the frame, or of another canvas, shape (height, width, 3)."""
    height, width, text = (canvas or page.locator(FRAME)).evaluate(_CODES)
    return np.frombuffer(base64.b64decode(text), np.uint8).reshape(height, width, 4)[..., :3]


def part(picture, left, top, right, bottom):
    """A piece of a picture; its edges as shares of width and height."""
    height, width = picture.shape[:2]
    return picture[
        round(top * height) : round(bottom * height), round(left * width) : round(right * width)
    ]
