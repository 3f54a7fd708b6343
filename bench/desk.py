"""The desk in headless Chromium on the real server: from the hand to the painted frame."""

import json
import random
import statistics
import time

from playwright.sync_api import sync_playwright

from moth.document import load
from tests.served import CHROMIUM, served

AFTER = """async ([act, marks]) => {
    performance.clearMarks();
    const start = performance.now();
    eval(act);
    const times = {};
    for (let k = 0; k < 4000; k++) {
        for (const [name, after] of marks) {
            const floor = after === null ? start : times[after];
            if (times[name + (after ?? "")] !== undefined || floor === undefined) continue;
            const hit = performance.getEntriesByName(name).find((m) => m.startTime >= floor);
            if (hit) times[name + (after ?? "")] = hit.startTime;
        }
        if (marks.every(([name, after]) => times[name + (after ?? "")] !== undefined)) break;
        await new Promise((r) => setTimeout(r, 4));
    }
    return Object.fromEntries(Object.entries(times).map(([k, v]) => [k, v - start]));
}"""
KEY = (
    "document.querySelector('{target}').dispatchEvent(new KeyboardEvent('keydown', {{key: '{key}',"
    " shiftKey: {fine}, bubbles: true}}))"
)


def _sign_in(page, server):
    page.goto(server.url)
    page.get_by_label("Name").fill("gaffer")
    page.get_by_label("Password").fill(server.password)
    page.get_by_role("button", name="Sign in").click()


def _keeper():
    """The keeper's demo set-up as a document of today's version."""
    with open("inkwell/setups/demo/keeper-instrument-room.json") as file:
        return load(json.load(file)).model_dump(mode="json")


def measure(times=15, beside=None):
    """Medians in milliseconds: dimmer, first frame, full frame, readings alone and behind the first
    frame. `beside` is begun with the page and the server, before anything is timed.
    """
    with served("inkwell_bench") as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        _sign_in(page, server)
        page.get_by_role("link", name="Keeper, instrument room").click()
        page.wait_for_function(
            "() => performance.getEntriesByName('frame-full').length > 0", timeout=60_000
        )
        page.wait_for_timeout(1500)
        if beside:
            beside(page, server)
        # The engine of a run just before still lives and knows the light of each place it was at.
        angle = page.get_by_label("Off lens", exact=True)
        angle.fill(f"{random.uniform(-60, -45):.3f}")
        angle.press("Enter")
        page.wait_for_timeout(4000)

        dimmer, first, full, behind = [], [], [], []
        for k in range(times):
            key = "ArrowLeft" if k % 2 else "ArrowRight"
            act = KEY.format(target="[role=slider][aria-label=Dimmer]", key=key, fine="false")
            dimmer.append(page.evaluate(AFTER, [act, [["frame-painted", None]]])["frame-painted"])
            page.wait_for_timeout(300)
        for _ in range(times):
            act = KEY.format(target="body", key="ArrowLeft", fine="true")
            got = page.evaluate(
                AFTER,
                [
                    act,
                    [
                        ["layer-coarse", None],
                        ["frame-painted", "layer-coarse"],
                        ["look-read", None],
                        ["layer-full", None],
                        ["frame-painted", "layer-full"],
                    ],
                ],
            )
            (
                first.append(got["frame-paintedlayer-coarse"]),
                full.append(got["frame-paintedlayer-full"]),
                behind.append(got["look-read"]),
            )
            page.wait_for_timeout(1800)  # the figures of the unit are asked for in this pause
        look = """async (body) => {
            const { csrf } = await (await fetch('/api/session')).json();
            const start = performance.now();
            const answer = await fetch(`/api${location.pathname}/look`, {
                method: 'POST', body,
                headers: { 'X-CSRFToken': csrf, 'Content-Type': 'application/json' },
            });
            await answer.text();
            if (!answer.ok) throw new Error(`look answered ${answer.status}`);
            return performance.now() - start;
        }"""
        document = _keeper()
        document["units"][0]["position"][0] += random.uniform(0.0005, 0.0095)
        readings, moved = [], []
        for k in range(times):
            document["units"][0]["dimmer"] = 0.1 + k / 100
            readings.append(
                page.evaluate(look, json.dumps({"document": document, "picture": False}))
            )
            document["units"][0]["position"][0] += 0.01
            moved.append(page.evaluate(look, json.dumps({"document": document, "picture": False})))
        browser.close()
    return {
        name: statistics.median(values)
        for name, values in {
            "dimmer": dimmer,
            "first": first,
            "full": full,
            "readings": readings,
            "alone": moved,
            "behind": behind,
        }.items()
    }


LIVE = """async (seconds) => {
    const slider = document.querySelector('[role=slider][aria-label=Dimmer]');
    performance.clearMarks();
    const start = performance.now();
    let turns = 0;
    while (performance.now() - start < seconds * 1000) {
        const key = turns++ % 2 ? 'ArrowLeft' : 'ArrowRight';
        slider.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
        await new Promise(requestAnimationFrame);
    }
    return performance.getEntriesByName('instruments-drawn').length / seconds;
}"""
UPLOAD = """async (body) => {
    const { csrf } = await (await fetch('/api/session')).json();
    const [production] = await (await fetch('/api/productions')).json();
    const headers = { 'X-CSRFToken': csrf, 'Content-Type': 'application/json' };
    const path = `/api/scenes/${production.scenes[0].id}/import`;
    return (await (await fetch(path, { method: 'POST', headers, body })).json()).id;
}"""


def live(units=8, seconds=4):
    """Frames a second with waveform, histogram and spots while a dimmer is moved, 640 x 360: luma,
    three channels.
    """
    document = _keeper()
    while len(document["units"]) < units:
        extra = dict(document["units"][len(document["units"]) % 4])
        extra["id"], extra["name"] = (
            f"more-{len(document['units'])}",
            f"More {len(document['units'])}",
        )
        document["units"].append(extra)
    with served("inkwell_bench") as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        _sign_in(page, server)
        page.get_by_role("link", name="Keeper, instrument room").first.wait_for()
        page.goto(f"{server.url}/setups/{page.evaluate(UPLOAD, json.dumps(document))}")
        page.wait_for_function(
            "() => performance.getEntriesByName('frame-full').length > 0", timeout=120_000
        )
        page.get_by_role("button", name="Instruments").click()
        page.wait_for_timeout(2500)
        found = {"luma": page.evaluate(LIVE, seconds)}
        page.get_by_role("button", name="Trace").click()
        page.get_by_role("option", name="Three channels").click()
        page.wait_for_timeout(1500)
        found["three channels"] = page.evaluate(LIVE, seconds)
        browser.close()
    return found


def cold():
    """Seconds from the start of the server to its first answer."""
    with served("inkwell_bench") as server:
        server.stop()
        start = time.perf_counter()
        server.start()
        return time.perf_counter() - start
