"""Told by the page: people set by hand, a push to the page's own worker shown once, "I have it" on the bench,
steps answered by voice.
"""

import json
import re
from datetime import UTC, datetime, timedelta

import psycopg
import pytest
from playwright.sync_api import expect

from cavatum.machine.seals import seal_key
from cavatum.services import voice as round_
from cavatum.store.pool import stay_within
from cavatum.store.workshops import implied_workshop
from cavatum.voice import push
from tests.browser.conftest import PATIENCE_MS
from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.browser.test_pour import DONE, begin, stored
from tests.conftest import KEY, as_shop
from tests.voice import servers


@pytest.fixture(scope="module")
def certificate(tmp_path_factory):
    return servers.certificate(tmp_path_factory.mktemp("certificate"))


@pytest.fixture
def trusting(live_app, certificate):
    live_app.config["VOICE_TRUSTS"] = certificate.trusts
    yield
    del live_app.config["VOICE_TRUSTS"]


def add_person(page, name, mail=""):
    page.get_by_role("button", name="Add a person").click()
    page.get_by_label("name", exact=True).fill(name)
    page.get_by_label("mail address", exact=True).fill(mail)
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("listitem").filter(has_text=name).first).to_be_visible()


def allow_own_network(page):
    if not page.get_by_label("server", exact=True).first.is_visible():
        page.get_by_text("Mail server and broker").click()
    page.get_by_label("Messages may go to this house's own network").check()


@pytest.mark.usefixtures("trusting")
def test_a_person_is_added_by_hand_and_a_mail_to_try_arrives(open_page, certificate):
    page = open_page("/told")
    with servers.mail(certificate.serves) as letters:
        add_person(page, "Wren", "wren@workshop.example")
        row = page.get_by_role("listitem").filter(has_text="Wren").first
        expect(row.get_by_role("alert")).to_have_text("Mail needs a mail server, set below.")
        assert complaints_of_axe(page) == []
        page.get_by_label("server", exact=True).first.fill("localhost")
        page.get_by_label("port").first.fill(str(letters.port))
        page.get_by_label("sent from, a mail address").fill("bench@workshop.example")
        page.get_by_label("user, may be empty").first.fill("shop")
        page.get_by_label("password", exact=True).first.fill("right")
        allow_own_network(page)
        page.get_by_role("button", name="Save").click()
        expect(row.get_by_role("alert")).to_have_count(0)
        row.get_by_role("button", name="Send one to try").click()
        expect(row.get_by_text("mail: sent")).to_be_visible()
        assert letters.got[0][0] == "wren@workshop.example"
        # Asked in their order, and changed by hand
        add_person(page, "Arlo", "arlo@workshop.example")
        page.get_by_role("button", name="Ask Arlo sooner").click()
        names = page.get_by_role("list").first.locator("b")
        expect(names.first).to_have_text("Arlo")
        page.get_by_role("listitem").filter(has_text="Arlo").first.get_by_role(
            "button", name="Remove"
        ).click()
        expect(page.get_by_text("arlo@workshop.example")).to_have_count(0)


STAND_IN = """
const kept = %s;
PushManager.prototype.subscribe = async function (asked) {
  window.askedWith = btoa(String.fromCharCode(...new Uint8Array(asked.applicationServerKey)));
  const unsubscribe = async () => delete window.subscribed;
  window.subscribed = { endpoint: kept.endpoint, toJSON: () => kept, unsubscribe };
  return window.subscribed;
};
PushManager.prototype.getSubscription = async () => window.subscribed ?? null;
"""


@pytest.mark.usefixtures("trusting")
def test_a_push_reaches_the_worker_of_the_page_and_is_shown_once(open_page, certificate, whole_chromium):
    browser = servers.Browser()
    with servers.web(certificate.serves) as service:
        kept = {
            "endpoint": f"https://localhost:{service.port}/of/wren",
            "keys": {
                "p256dh": push.url64(push.public_of(browser.key)),
                "auth": push.url64(browser.secret),
            },
        }
        page = open_page("/told", offline=True, browser=whole_chromium())
        page.context.grant_permissions(["notifications"])
        page.context.add_init_script(STAND_IN % json.dumps(kept))
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        add_person(page, "Wren")
        page.get_by_text("Mail server and broker").click()
        allow_own_network(page)
        page.get_by_role("button", name="Save").click()
        page.get_by_role("button", name="Send messages here").click()
        expect(page.get_by_text("also while its screen is locked")).to_be_visible()
        page.get_by_role("button", name="Send one to try").click()
        expect(page.get_by_text("message to a phone: sent")).to_be_visible()
        _, headers, body = service.asked[0]
        assert servers.who_sent(headers["authorization"], datetime.now(UTC))
        message = browser.opened(body)
        deliver = deliverer(page)
        shows = told_by_worker(page)
        for told in (message, message, {**message, "key": "another", "title": "Flame round"}):
            deliver(json.dumps(told))
        # What cannot be read is said to be something, and nothing breaks
        deliver("nonsense")
        until(page, lambda: len(shows()) >= 3)
        assert shows() == ["Cavatum can reach you", "Flame round", "Cavatum"]
        page.get_by_role("button", name="No more messages here").click()
        expect(page.get_by_text("no way reaches them yet")).to_be_visible()


def told_by_worker(page):
    """What the worker had the browser show, once the browser says that it does. Its own list of them
    (`getNotifications`) forgets some while the machine is very busy.
    """
    worker = next(one for one in page.context.service_workers if one.url.endswith("/sw.js"))
    worker.evaluate("""() => {
        self.told = [];
        const show = self.registration.showNotification.bind(self.registration);
        self.registration.showNotification = (title, rest) =>
            show(title, rest).then(() => self.told.push(title));
    }""")
    return lambda: worker.evaluate("self.told")


def until(page, holds) -> None:
    """Until it holds; the caller asserts what, so a wait in vain shows what there was."""
    for _ in range(PATIENCE_MS // 100):
        if holds():
            return
        page.wait_for_timeout(100)


def deliverer(page):
    """Hands the worker what a push service would (DevTools' ServiceWorker.deliverPushMessage)."""
    session = page.context.new_cdp_session(page)
    found = []
    session.on(
        "ServiceWorker.workerRegistrationUpdated",
        lambda told: found.extend(one["registrationId"] for one in told["registrations"]),
    )
    session.send("ServiceWorker.enable")
    while not found:
        page.wait_for_timeout(50)
    origin = page.evaluate("location.origin")

    def deliver(text):
        session.send(
            "ServiceWorker.deliverPushMessage",
            {"origin": origin, "registrationId": found[0], "data": text},
        )

    return deliver


def test_the_bench_shows_who_was_told_and_one_tap_has_it(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour")
    begin(page, rehearse=False)
    page.goto("/told")
    with servers.web() as hook:
        hook.answers = 204
        page.get_by_role("button", name="Add a person").click()
        page.get_by_label("name", exact=True).fill("Wren")
        page.get_by_label("quiet from").fill("")  # this test may run at night
        page.get_by_text("House control").click()
        page.get_by_label("webhook").fill(f"http://localhost:{hook.port}/bench")
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_text("Mail server and broker").click()
        allow_own_network(page)
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Saved.")).to_be_visible()
        with psycopg.connect(database_url) as owner:
            shop = implied_workshop(owner)
        with psycopg.connect(as_shop(database_url), autocommit=True) as connection:
            stay_within(connection, shop)
            house = round_.House(seal_key=seal_key(KEY), address="")
            round_.tell(connection, shop, house, datetime.now(UTC))
            soon = datetime.now(UTC) - timedelta(minutes=1)
            moved = connection.execute(
                "update moment_call set at = %s, known_at = %s, latest = %s where id ="
                " (select min(id) from moment_call where over_at is null and kind <> 'pouring')",
                [soon, soon, soon + timedelta(hours=1)],
            )
            assert moved.rowcount == 1
            with connection.transaction():
                messages = round_.due_now(connection, shop, house, datetime.now(UTC))
            round_.send_all(connection, shop, house, messages, datetime.now(UTC))
        assert hook.asked
        page.goto("/")
        waiting = page.get_by_label("Nobody has answered")
        expect(waiting.get_by_text("Wren by webhook").first).to_be_visible()
        assert complaints_of_axe(page) == []
        before = waiting.get_by_role("listitem").count()
        waiting.get_by_label("Your name").first.fill("Arlo")
        waiting.get_by_role("button", name="I have it").first.click()
        expect(waiting.get_by_role("listitem")).to_have_count(before - 1)
        page.goto("/told")
        expect(page.get_by_text("Arlo has it since").first).to_be_visible()


EARS = """
window.SpeechRecognition = class {
  start() { window.ear = this; }
  abort() {}
};
window.hear = (text) => window.ear.onresult({ results: [{ isFinal: true, 0: { transcript: text } }] });
window.spoken = [];
window.SpeechSynthesisUtterance = class { constructor(text) { this.text = text; } };
Object.defineProperty(window, "speechSynthesis", { value: {
  getVoices: () => [{ lang: "en-GB", localService: true, name: "stand-in" }],
  speak: (words) => window.spoken.push(words.text),
  cancel() {}, addEventListener() {}, removeEventListener() {},
} });
"""


def test_steps_are_read_out_and_answered_by_voice(open_page, database_url):
    page = piece_at(open_page, "Planter rings", "pour")
    page.context.add_init_script(EARS)
    page.reload()
    run = begin(page, rehearse=False)
    title = page.get_by_role("heading", level=1)
    page.get_by_role("button", name="Read steps aloud").click()
    page.wait_for_function("window.spoken.length === 1")
    assert page.evaluate("window.spoken[0]").startswith(title.inner_text())
    page.get_by_role("button", name="Listen to me").click()
    # Its ears are elsewhere: nothing is listened to before that was said and allowed
    expect(page.get_by_role("alertdialog", name="Sent outside")).to_contain_text("to its maker")
    assert page.evaluate("window.ear === undefined")
    page.get_by_role("button", name="Allow that").click()
    expect(page.get_by_text("Say “done”, “later” or “how long”.")).to_be_visible()
    page.evaluate("hear('how long')")
    page.wait_for_function("window.spoken.length === 2")
    first = title.inner_text()
    page.evaluate("hear('I am not done')")
    page.wait_for_timeout(500)
    assert title.inner_text() == first
    expect(page.get_by_label("Timer and keys").get_by_role("button", name=DONE)).to_be_visible()
    page.evaluate("hear('done')")
    expect(title).not_to_have_text(first)
    page.wait_for_function("window.spoken.length === 3")
    assert [one.event.kind for one in stored(database_url, run)] == ["done"]
    assert complaints_of_axe(page) == []
    assert re.search("Listening: stop", page.inner_text("main"))
