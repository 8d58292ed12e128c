"""Headless Chromium against the real application. Errors in the page's console fail the test."""

import os

import pytest
from playwright.sync_api import expect, sync_playwright

from cavatum.machine.packages import find_chromium, find_whole_chromium

PATIENCE_MS = 90_000  # what is waited for is waited for long: a busy machine fails nothing
expect.set_options(timeout=PATIENCE_MS)
ARGUMENTS = [
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-gpu",
]


ALONE = ["--no-sandbox"] if os.geteuid() == 0 else []


@pytest.fixture(scope="session")
def playwright():
    with sync_playwright() as playwright:
        yield playwright


@pytest.fixture(scope="session")
def chromium(playwright):
    browser = playwright.chromium.launch(executable_path=find_chromium(), args=ARGUMENTS + ALONE)
    yield browser
    browser.close()


@pytest.fixture
def whole_chromium(playwright):
    """whole_chromium(*arguments) -> a browser with notifications and a camera; the light one has none."""
    opened = []

    def launch(*arguments):
        found = playwright.chromium.launch(
            executable_path=find_whole_chromium(), args=[*ARGUMENTS, *ALONE, *arguments]
        )
        opened.append(found)
        return found

    yield launch
    for one in opened:
        one.close()


def _is_complaint(message) -> bool:
    """Refusals (4xx) and a server that a test takes away are the page's daily bread."""
    bread = ("status of 4", "net::ERR_FAILED", "net::ERR_INTERNET_DISCONNECTED")
    return message.type == "error" and not any(word in message.text for word in bread)


@pytest.fixture
def open_page(chromium, demo_address):
    """open_page(path, width=..., theme=..., offline=True) -> a page of its own device, which keeps its pages
    at hand; several may be open.
    """
    contexts, complaints = [], []

    def listen(page):
        page.on("pageerror", lambda error: complaints.append(str(error)))
        page.on(
            "console",
            lambda message: (
                complaints.append(f"{message.text} {message.location.get('url', '')}".strip())
                if _is_complaint(message)
                else None
            ),
        )

    def make(path="/", width=1280, height=800, theme="paper", offline=False, browser=None):
        # The worker that keeps pages at hand fetches every built file first: only where a test is about that.
        context = (browser or chromium).new_context(
            viewport={"width": width, "height": height},
            base_url=demo_address,
            accept_downloads=True,
            locale="en-GB",
            service_workers="allow" if offline else "block",
        )
        context.add_init_script(
            f"localStorage.getItem('cavatum-theme') || localStorage.setItem('cavatum-theme', '{theme}')"
        )
        contexts.append(context)
        page = context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        listen(page)
        page.goto(path)
        return page

    make.complaints = complaints  # a test about a fault takes its own out
    yield make
    for context in contexts:
        context.close()
    assert not complaints
