"""What can be tapped stays where it was first seen: whatever comes in late moves nothing under a finger."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_frame import PLACES, STAGES, piece_path

OTHERS = ["/new", "/phones", "/told", "/instruments", "/people", "/account", "/workshop", "/shelf/read"]
# Each answer of the server is held back by another time, so that they come one by one and in another order.
ONE_BY_ONE = """
const ask = window.fetch;
let asked = 0;
Object.assign(window, {waitsFor: 0, lastCame: 0});
window.fetch = async (...what) => {
  window.waitsFor += 1;
  await new Promise((after) => setTimeout(after, 150 * ((asked++ * 7) % 5)));
  return ask(...what).finally(() => {
    window.waitsFor -= 1;
    window.lastCame = performance.now();
  });
};
"""
# Each frame looks where every key of the first screen is; the page is not touched.
MOVED = """
const KEYS = "a[href], button, input, select, textarea, summary, label.tile";
const named = (key) => key.ariaLabel || key.innerText || key.placeholder || key.tagName;
window.moved = [];
const seen = new Map();
const look = () => {
  for (const key of document.querySelectorAll(KEYS)) {
    if (key.disabled || key.closest("[inert]") || !key.checkVisibility({visibilityProperty: true})) continue;
    const {x, y} = key.getBoundingClientRect();
    const was = seen.get(key);
    if (was && was.y < innerHeight && (Math.abs(was.x - x) > 4 || Math.abs(was.y - y) > 4))
      window.moved.push(`${named(key)}: ${x - was.x}, ${y - was.y}`);
    seen.set(key, {x, y});
  }
  requestAnimationFrame(look);
};
document.addEventListener("DOMContentLoaded", look);
"""
ALL_IN = "() => window.waitsFor === 0 && window.lastCame && performance.now() - window.lastCame > 500"


def moved(page, path: str) -> list[str]:
    page.goto(path)
    page.wait_for_function(ALL_IN)
    return [f"{path}: {one}" for one in page.evaluate("window.moved")]


def an_untouched_workshop(route) -> None:
    answer = route.fetch()
    route.fulfill(response=answer, json=answer.json() | {"is_untouched": True})


@pytest.mark.parametrize("width", [1280, 390])
def test_no_key_moves_while_answers_come_in(open_page, width):
    page = open_page("/", width=width)
    piece = piece_path(page, "Door plaque")
    run = page.request.get("/api/v1/runs").json()["runs"][0]["id"]
    page.add_init_script(ONE_BY_ONE + MOVED)
    paths = [*PLACES, *OTHERS, f"/logbook/{run}", f"/runs/{run}"]
    paths += [f"{piece}/{one}" for one in (*STAGES, "coats", "pour", "ready", "sheet")]
    found = [one for path in paths for one in moved(page, path)]
    page.route("**/api/v1/session", an_untouched_workshop)
    found += moved(page, "/new")
    assert not found, "\n".join(found)


def test_a_lost_connection_is_said_without_moving_a_key(open_page):
    page = open_page("/")
    page.add_init_script(ONE_BY_ONE + MOVED)
    kept = {"X-Kept-Since": "2026-10-21T08:00:00Z"}
    page.route(re.compile("/api/v1/(?!session)"), lambda one: one.fulfill(response=one.fetch(), headers=kept))
    found = moved(page, "/pieces")
    expect(page.get_by_role("status").filter(has_text="No connection")).to_be_in_viewport()
    assert not found, "\n".join(found)
