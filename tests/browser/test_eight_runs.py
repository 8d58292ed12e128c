"""Eight whole runs by a scripted maker, one of a kind, on a hastened clock, each with one thing going
wrong: the log
they end in says what was done, entry by entry, and nothing else.
"""

import re
import time

import pytest
from playwright.sync_api import TimeoutError, expect

from tests.browser.test_mix import piece_at
from tests.browser.test_pour import begin, each_once, stored

SERVER_SAYS = ("pace",)  # what no maker says
PRESS = """([pattern, where]) => {
    if (document.querySelector('[role=alertdialog][aria-label=Alarm]')) return null;
    const key = [...document.querySelectorAll(`${where} button`)]
        .find((one) => !one.disabled && new RegExp(pattern).test(one.innerText.trim()));
    if (!key) return null;
    const title = document.querySelector('main h1').innerText;
    key.click();
    return {title, label: key.innerText.trim()};
}"""
KEYS = "section[aria-label='Timer and keys']"
DONE = r"^(Done|Seen)"
GLOVE_MS = 430  # past the guard against a double knock


class Maker:
    """Does what the page asks for, and keeps in mind what was done: (kind, title of the step or code, what
    else)."""

    def __init__(self, page, wrong):
        self.page, self.wrong, self.said, self.is_wrong_done = page, wrong, [], False
        self.heard = 0

    def press(self, pattern, where=KEYS):
        found = self.page.evaluate(PRESS, [pattern, where])
        if found:
            self.page.wait_for_timeout(GLOVE_MS)
        return found

    def must(self, pattern):
        """Pressed, whatever alarm stands before it just now."""
        until = time.monotonic() + 60
        while not self.press(pattern):
            assert time.monotonic() < until, pattern
            self.hear()

    def knock(self, key):
        """An alarm comes when it is due, over whatever is just being tapped."""
        for left in reversed(range(30)):
            self.hear()
            try:
                return key.click(timeout=3000)
            except TimeoutError:
                if not left:
                    raise

    def say(self, kind, what, more=""):
        self.said.append((kind, what, more))

    def tap(self, pattern, kind, more=""):
        found = self.press(pattern)
        if found:
            self.say(kind, found["title"], more)
        return found

    def hear(self):
        key = self.page.get_by_role("button", name="Heard: go on")
        while key.count():
            key.first.click()
            self.heard += 1
            self.page.wait_for_timeout(80)

    def step(self):
        """One thing, as the page asks for it."""
        self.hear()
        if self.press("^On to when it is due", "main"):
            return
        if not self.is_wrong_done and self.wrong(self):
            self.is_wrong_done = True
            return
        if self.tap("^(Passed|Flawless)", "test", "passed") or self.tap("^Too late", "skip"):
            return
        if self.tap(r"^(Start|Let it rest)", "begin"):
            self.page.wait_for_timeout(300)
            return
        self.tap(DONE, "done")

    def carry_out(self, seconds):
        over = self.page.get_by_role("heading", name="Nothing is left to do.")
        until = time.monotonic() + seconds
        while not over.count() and time.monotonic() < until:
            self.step()
        self.hear()
        expect(over).to_be_visible()
        assert self.is_wrong_done
        assert self.press("^End this run", "main")
        self.say("end", "finished")
        expect(self.page.get_by_role("heading", name=re.compile("Debrief"))).to_be_visible()


def mishap(name, code):
    def wrong(maker):
        if not maker.press("^Something is wrong"):
            return False
        maker.knock(maker.page.get_by_role("dialog").get_by_role("button", name=name))
        maker.say("mishap", code)
        maker.knock(maker.page.get_by_role("button", name="It is over: back to the steps"))
        maker.say("mishap-over", code)
        maker.page.wait_for_timeout(GLOVE_MS)
        return True

    return wrong


def failed_test(maker):
    return bool(maker.tap("^Not passed", "test", "not passed"))


def made_again(maker):
    if not maker.page.locator(KEYS).get_by_role("button", name="dimples").count():
        return False
    if maker.page.locator(KEYS).get_by_role("button", name="dimples", pressed=False).count():
        maker.press("^dimples")
    return bool(maker.tap("^Make the coat again", "test", "not passed dimples"))


def left_out(maker):
    title = maker.page.locator("main h1").inner_text()
    if "round" not in title.lower() and "look" not in title.lower():
        return False
    if not maker.press("^Note, photo, reading"):
        return False
    maker.knock(maker.page.get_by_role("dialog").get_by_role("button", name="Leave this step out"))
    maker.say("skip", title)
    maker.page.wait_for_timeout(GLOVE_MS)
    return True


def weighed_more(maker):
    if not maker.press("^Part [AB] came out different", "main"):
        return False
    for digit in "13.0":
        maker.knock(maker.page.get_by_role("dialog").get_by_role("button", name=digit, exact=True))
    maker.knock(maker.page.get_by_role("dialog").get_by_role("button", name="Take it"))
    maker.say("weighed", maker.page.locator("main h1").inner_text(), "13.0 g")
    maker.page.wait_for_timeout(GLOVE_MS)
    return True


def taken_back(maker):
    found = maker.tap(DONE, "done")
    if not found:
        return False
    maker.must("^Undo the last")
    maker.say("undo", found["title"])
    return True


def noted(maker):
    if "Pour" not in maker.page.locator("main h1").inner_text() or not maker.press("^Note, photo, reading"):
        return False
    maker.page.get_by_role("textbox", name="Note").fill("a hair in the corner")
    maker.knock(maker.page.get_by_role("button", name="Keep the note"))
    maker.say("note", "a hair in the corner")
    maker.knock(maker.page.get_by_role("button", name="Back to the steps"))
    maker.page.wait_for_timeout(GLOVE_MS)
    return True


RUNS = {
    "turned work: a failed test": ("Newel finials", failed_test),
    "pressure casting: smoke": ("Lamp column blank", mishap("Cup or piece smokes", "smoke")),
    "small castings: something floats": ("Fern tray", mishap("Something floats up", "float")),
    "nested mould: taken back": ("Planter rings", taken_back),
    "carved pockets: weighed more": ("Waymark discs", weighed_more),
    "painted top: made again": ("Potting-shed stool", made_again),
    "rotator: a step left out": ("Brush pots", left_out),
    "crack or knot: a note, and it leaks": ("Newel post", noted),
}


def as_said(kept, script):
    """The log in the maker's words."""
    titles = {step["id"]: step["title"] for step in script["steps"]}
    by_id = {str(one.event_id): one for one in kept}
    found = []
    for one in kept:
        event = one.event
        kind = event.kind
        if kind in (*SERVER_SAYS, "heard") or (kind == "reading" and event.by == "stand-in"):
            continue
        if kind == "test":
            found.append((kind, titles[event.step], " ".join([event.result, *event.found])))
        elif kind == "mishap":
            found.append((kind, event.code, ""))
        elif kind == "mishap-over":
            found.append((kind, by_id[str(event.event_id)].event.code, ""))
        elif kind == "undo":
            found.append((kind, titles[by_id[str(event.event_id)].event.step], ""))
        elif kind == "weighed":
            found.append((kind, titles[event.step], f"{event.kg * 1000:.1f} g"))
        elif kind == "note":
            found.append((kind, event.text, ""))
        elif kind == "end":
            found.append((kind, event.how, ""))
        else:
            found.append((kind, titles[event.step], ""))
    return found


@pytest.mark.long
@pytest.mark.timeout(600)
@pytest.mark.parametrize("name", RUNS)
def test_a_whole_run_ends_in_a_log_that_says_what_was_done(open_page, database_url, name):
    piece, wrong = RUNS[name]
    page = piece_at(open_page, piece, "pour")
    run = begin(page, rehearse=True, speed="60 times", troubles=False)
    page.wait_for_timeout(GLOVE_MS)
    maker = Maker(page, wrong)
    maker.carry_out(420)
    until = time.monotonic() + 150
    kept = stored(database_url, run)
    while kept[-1].event.kind != "end" and time.monotonic() < until:  # the page is ahead of what it sent
        page.wait_for_timeout(200)
        kept = stored(database_url, run)
    script = page.request.get(f"/api/v1/runs/{run}").json()["script"]
    assert each_once(kept)
    assert as_said(kept, script) == maker.said
    heard = [one.event.alarm for one in kept if one.event.kind == "heard"]
    ids = {step["id"] for step in script["steps"]}
    assert all(alarm.rpartition("/")[0] in ids for alarm in heard) and len(heard) >= maker.heard > -1
