"""Instruments at the page's own browser: a stand-in put in place of its serial port and of its Bluetooth,
from choosing it to a batch weighed with it, a link that breaks in the middle, and going on by hand.
"""

from playwright.sync_api import expect

from tests.browser.test_frame import complaints_of_axe

# Two ends of a cable: what the test says comes out of the port, what the page sends is kept.
PORT = """
window.sent = [];
const encoder = new TextEncoder();
class Port {
  open() {
    this.readable = new ReadableStream({ start: (end) => { window.cable = end; } });
    const write = (bytes) => { window.sent.push(new TextDecoder().decode(bytes)); };
    this.writable = new WritableStream({ write });
    return Promise.resolve();
  }
  close() { this.readable = null; return Promise.resolve(); }
}
Object.defineProperty(navigator, "serial", { value: { requestPort: async () => new Port() } });
window.says = (text) => window.cable.enqueue(encoder.encode(text + "\\r\\n"));
window.pull = () => { window.cable.error(new Error("unplugged")); };
"""
AIR = """
class Characteristic extends EventTarget {
  constructor(uuid) { super(); this.uuid = uuid; window.air = { ...window.air, [uuid]: this }; }
  startNotifications() { return Promise.resolve(this); }
}
class Device extends EventTarget {
  constructor() {
    super();
    this.name = "Sensor on the wall";
    this.gatt = {
      connect: async () => this.gatt,
      disconnect: () => this.dispatchEvent(new Event("gattserverdisconnected")),
      getPrimaryService: async (service) => { window.service = service; return {
        getCharacteristic: async (uuid) => new Characteristic(uuid),
      }; },
    };
    window.sensor = this;
  }
}
Object.defineProperty(navigator, "bluetooth", { value: { requestDevice: async () => new Device() } });
window.notify = (uuid, bytes) => {
  window.air[uuid].value = new DataView(new Uint8Array(bytes).buffer);
  window.air[uuid].dispatchEvent(new Event("characteristicvaluechanged"));
};
"""


def instruments(open_page, *scripts):
    page = open_page("/")
    for one in scripts:
        page.context.add_init_script(one)
    page.goto("/instruments")
    return page


def row(page, name):
    return page.get_by_role("listitem").filter(has_text=name)


def keep_saying(page, text):
    """As a scale does, several times a second."""
    page.evaluate("clearInterval(window.saying)")
    page.evaluate("(text) => { window.saying = setInterval(() => window.says(text), 120); }", text)


def test_a_scale_at_the_browsers_own_cable_weighs_a_batch_and_its_loss_is_said(open_page):
    page = instruments(open_page, PORT)
    assert complaints_of_axe(page) == []
    scale = row(page, "Scale")
    scale.get_by_role("button", name="Connect by cable").click()
    expect(scale.get_by_text("Connected to this browser")).to_be_visible()
    keep_saying(page, "ST,GS,+ 0.0 g")
    expect(scale.locator("[data-figure=scale]")).to_have_text("0.0 g")
    expect(scale.get_by_text("at a browser")).to_be_visible()
    # The page stays open while another place is looked at: the link with it
    page.get_by_role("link", name="Pieces").click()
    page.get_by_role("link", name="Drawer pulls").first.click()
    page.get_by_role("link", name="Mix").first.click()
    page.get_by_role("link", name="Weigh").first.click()
    page.evaluate("window.stays = true")
    keep_saying(page, "ST,GS,+ 182.4 g")
    expect(page.get_by_text("182.4").first).to_be_visible()
    page.get_by_role("button", name="Cup is on: count from here").click()
    expect(page.get_by_text("Pour part A (resin)")).to_be_visible()
    keep_saying(page, "US,GS,+ 200.0 g")
    expect(page.get_by_text("17.6").first).to_be_visible()
    page.evaluate("window.pull(); clearInterval(window.saying)")
    expect(page.get_by_text("type what it shows").first).to_be_visible()
    page.get_by_role("button", name="Type weight").click()  # by hand from here
    expect(page.get_by_role("dialog")).to_be_visible()
    assert page.evaluate("window.stays") is True


def test_nonsense_from_a_port_is_said_and_a_lost_link_is_tried_again(open_page):
    page = instruments(open_page, PORT)
    scale = row(page, "Scale")
    scale.get_by_role("button", name="Connect by cable").click()
    expect(scale.get_by_text("Connected to this browser")).to_be_visible()
    page.evaluate("for (let i = 0; i < 30; i += 1) window.says('hello there')")
    expect(scale.get_by_role("alert")).to_contain_text("Nothing of what it sends is a reading")
    page.evaluate("window.pull()")
    expect(scale.get_by_role("alert")).to_contain_text("Go on by hand")
    expect(scale.get_by_text("Connected to this browser")).to_be_visible()  # it was opened again
    keep_saying(page, "12.5 g")
    expect(scale.locator("[data-figure=scale]")).to_have_text("12.5 g")
    page.evaluate("clearInterval(window.saying)")
    scale.get_by_role("button", name="Disconnect").click()
    expect(scale.get_by_role("button", name="Connect by cable")).to_be_visible()


def test_the_air_of_the_room_by_bluetooth_and_what_a_browser_cannot_is_said(open_page):
    page = instruments(open_page, AIR)
    room = row(page, "Room sensor")
    room.get_by_role("button", name="Connect by Bluetooth").click()
    expect(room.get_by_text("Sensor on the wall").first).to_be_visible()
    page.wait_for_function("window.air && window.air[0x2a6e] && window.air[0x2a6f]")
    assert page.evaluate("window.service") == 0x181A
    page.evaluate("notify(0x2a6e, [0x59, 0x08]); notify(0x2a6f, [0x6e, 0x14])")
    expect(room.locator("[data-figure=room]")).to_have_text("21.4 °C, air 52.3 %")
    page.evaluate("window.sensor.gatt.disconnect()")
    expect(room.get_by_role("alert")).to_contain_text("out of reach or switched off")
    bare = instruments(
        open_page,
        "for (const one of ['serial', 'bluetooth', 'hid']) delete Object.getPrototypeOf(navigator)[one];",
    )
    expect(bare.get_by_text("This browser reaches no instrument by a cable (Web Serial)")).to_be_visible()
    expect(bare.get_by_role("button", name="Connect by cable")).to_have_count(0)
