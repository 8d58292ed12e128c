"""Coming in over the network with a real browser: a link, a password, a passkey on the device, roles, putting
out.
"""

import re
import threading

import pytest
from playwright.sync_api import expect

from cavatum.machine import ports
from tests.api.shops import PASSWORD
from tests.browser.test_frame import complaints_of_axe


@pytest.fixture
def network_address(make_app, live_address, demo_address):
    """The network's own server, here by the name localhost: browsers take that for a protected line."""
    from werkzeug.serving import make_server

    app, port = make_app(network_hosts=["localhost"]), ports.free_port()
    server = make_server("127.0.0.1", port, app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://localhost:{port}"
    server.shutdown()
    thread.join()
    server.server_close()


@pytest.fixture
def open_page(network_address, open_page):
    """The pages are closed before the network's server is: one that still loads would see it reset."""
    return open_page


@pytest.fixture
def shop_screen(open_page, make_app, network_address, live_app):
    live_app.config["NETWORK_ADDRESS"] = network_address
    yield lambda path="/people", **more: open_page(path, **more)
    live_app.config["NETWORK_ADDRESS"] = None


def link_for(page, name: str, role: str) -> str:
    page.get_by_label("whom").fill(name)
    page.get_by_role("combobox", name=re.compile("^as")).select_option(role)
    page.get_by_role("button", name="Make a link").click()
    expect(page.locator("[data-figure=link]")).to_be_visible()
    return page.locator("[data-figure=link]").inner_text()


def join(page, email: str) -> None:
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Come in").click()
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()


def test_from_the_shops_screen_to_a_passkey_on_the_phone_and_out_again(
    shop_screen, open_page, network_address
):
    shop = shop_screen()
    expect(shop.get_by_text("Nobody has an account yet.")).to_be_visible()
    assert complaints_of_axe(shop) == []
    link = link_for(shop, "Wren", "owner")
    phone = open_page(link, width=390, height=844)
    expect(phone.get_by_role("heading", name=re.compile("Come into"))).to_be_visible()
    assert complaints_of_axe(phone) == [] and "#" not in phone.url
    phone.get_by_label("E-mail address").fill("wren@yard.example")
    phone.get_by_label("Password").fill("password1234")
    phone.get_by_role("button", name="Come in").click()
    expect(phone.get_by_role("alert")).to_contain_text("easily guessed")
    join(phone, "wren@yard.example")
    phone.get_by_role("link", name="Wren").click()
    expect(phone.get_by_role("heading", name="Wren")).to_be_visible()
    assert complaints_of_axe(phone) == []
    devtools = phone.context.new_cdp_session(phone)
    devtools.send("WebAuthn.enable")
    devtools.send(
        "WebAuthn.addVirtualAuthenticator",
        {
            "options": {
                "protocol": "ctap2",
                "transport": "internal",
                "hasResidentKey": True,
                "hasUserVerification": True,
                "isUserVerified": True,
                "automaticPresenceSimulation": True,
            }
        },
    )
    phone.get_by_role("button", name="Make one on this device").click()
    expect(phone.get_by_role("status")).to_contain_text("The passkey is kept")
    phone.get_by_role("button", name="Log out").click()
    expect(phone.get_by_role("heading", name="Log in")).to_be_visible()
    assert complaints_of_axe(phone) == []
    phone.get_by_role("button", name="Log in with a passkey").click()
    expect(phone.get_by_role("navigation", name="Places")).to_be_visible()
    shop.reload()
    expect(shop.get_by_label("People", exact=True)).to_contain_text("wren@yard.example")
    expect(shop.get_by_label("Trail")).to_contain_text("Wren came in: with a passkey")
    assert complaints_of_axe(shop) == []
    again = open_page(link)
    expect(
        again.get_by_role("alert").or_(again.get_by_text("the invitation", exact=False)).first
    ).to_be_visible()
    shop.on("dialog", lambda dialog: dialog.accept())
    shop.get_by_role("button", name="Take access away", exact=True).click()
    expect(shop.get_by_text("Nobody has an account yet.")).to_be_visible()
    phone.reload()
    expect(phone.get_by_role("heading", name="Log in")).to_be_visible()


def test_a_viewer_is_told_what_is_not_theirs_and_wrong_passwords_tell_nothing(
    shop_screen, open_page, network_address
):
    shop = shop_screen()
    looking = open_page(link_for(shop, "Moss", "viewer"))
    join(looking, "moss@yard.example")
    expect(looking.get_by_role("link", name="Moss, looking")).to_be_visible()
    looking.goto(f"{network_address}/people")
    expect(looking.get_by_text("You can view this workshop but not change it")).to_be_visible()
    for email in ("moss@yard.example", "nobody@yard.example"):
        stranger = open_page(f"{network_address}/pieces", width=360, height=740)
        stranger.get_by_label("E-mail address").fill(email)
        stranger.get_by_label("Password").fill("not the password")
        stranger.get_by_role("button", name="Log in", exact=True).click()
        expect(stranger.get_by_role("alert")).to_have_text(
            "Address or password is not right; both must belong to one account. Try again, or ask the "
            "owner for a new link."
        )
        assert stranger.evaluate("document.documentElement.scrollWidth") <= 360
    stranger.get_by_label("E-mail address").fill("moss@yard.example")
    stranger.get_by_label("Password").fill(PASSWORD)
    stranger.get_by_role("button", name="Log in", exact=True).click()
    stranger.wait_for_url("**/pieces")
    expect(stranger.get_by_role("navigation", name="Places")).to_be_visible()
