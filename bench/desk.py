"""The desk in headless Chromium on the real server: from the hand to the painted frame."""

import json
import statistics
import time

from playwright.sync_api import sync_playwright

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
KEY = "document.querySelector('{target}').dispatchEvent(new KeyboardEvent('keydown', {{key: '{key}', shiftKey: {fine}, bubbles: true}}))"


def measure(times=15):
    """Medians in milliseconds: dimmer, first frame, full frame, readings."""
    with served("inkwell_bench") as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(server.url)
        page.get_by_label("Name").fill("gaffer")
        page.get_by_label("Password").fill(server.password)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("link", name="Keeper, instrument room").click()
        page.wait_for_function("() => performance.getEntriesByName('frame-full').length > 0", timeout=60_000)
        page.wait_for_timeout(1500)

        dimmer, first, full = [], [], []
        for k in range(times):
            key = "ArrowLeft" if k % 2 else "ArrowRight"
            act = KEY.format(target='[role=slider][aria-label=Dimmer]', key=key, fine="false")
            dimmer.append(page.evaluate(AFTER, [act, [["frame-painted", None]]])["frame-painted"])
            page.wait_for_timeout(300)
        for _ in range(times):
            act = KEY.format(target="body", key="ArrowLeft", fine="true")
            got = page.evaluate(AFTER, [act, [["layer-coarse", None], ["frame-painted", "layer-coarse"], ["layer-full", None], ["frame-painted", "layer-full"]]])
            first.append(got["frame-paintedlayer-coarse"]), full.append(got["frame-paintedlayer-full"])
            page.wait_for_timeout(1800)  # the figures of the unit are asked for in this pause
        look = """async (body) => {
            const { csrf } = await (await fetch('/api/session')).json();
            const start = performance.now();
            const answer = await fetch(`/api${location.pathname}/look`, { method: 'POST', headers: { 'X-CSRFToken': csrf, 'Content-Type': 'application/json' }, body });
            await answer.json();
            return performance.now() - start;
        }"""
        with open("inkwell/setups/demo/keeper-instrument-room.json") as file:
            document = json.load(file)
        readings, moved = [], []
        for k in range(times):
            document["units"][0]["dimmer"] = 0.1 + k / 100
            readings.append(page.evaluate(look, json.dumps({"document": document, "picture": False})))
            document["units"][0]["position"][0] += 0.01
            moved.append(page.evaluate(look, json.dumps({"document": document, "picture": False})))
        browser.close()
    return {name: statistics.median(values) for name, values in
            {"dimmer": dimmer, "first": first, "full": full, "readings": readings, "readings after a move": moved}.items()}


def cold():
    """Seconds from the start of the server to its first answer."""
    with served("inkwell_bench") as server:
        server.stop()
        start = time.perf_counter()
        server.start()
        return time.perf_counter() - start
