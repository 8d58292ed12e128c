"""The phone over the piece in Chromium, its camera fed with rendered pictures: from marking the corners to an
alarm with the picture, and back to the run.
"""

import contextlib
import threading
import time
from datetime import UTC, datetime

import numpy as np
import psycopg
import pytest
from PIL import Image
from playwright.sync_api import expect

from cavatum.core.pour.events import Saw
from cavatum.services.watching import Watching
from cavatum.store import watch
from cavatum.store.pool import stay_within
from cavatum.store.workshops import implied_workshop
from tests.browser.test_frame import complaints_of_axe
from tests.browser.test_mix import piece_at
from tests.browser.test_pour import HEARD, begin, stored
from tests.conftest import as_shop
from tests.scenes.raking import Face
from tests.scenes.watch import A_SECOND, Scene, as_film


@contextlib.contextmanager
def eyes(database_url):
    """The worker's part, as often as it likes."""
    over, broke = threading.Event(), []

    def look():
        watching = Watching()
        try:
            with psycopg.connect(database_url) as owner:
                shop = implied_workshop(owner)
            with psycopg.connect(as_shop(database_url), autocommit=True) as connection:
                stay_within(connection, shop)
                while not over.wait(0.1):
                    for one in watch.open_in(connection, shop):
                        watching.round(connection, shop, one.id, datetime.now(UTC))
        except Exception as error:  # told where it is awaited
            broke.append(error)
        finally:
            watching.close()

    thread = threading.Thread(target=look)
    thread.start()
    yield
    over.set()
    thread.join()
    assert not broke


def on_the_film(page, corner):
    """Where a place of the picture lies on the screen: the board keeps the picture's shape."""
    board = page.get_by_label("Camera", exact=True).locator("svg").first
    turn = "(svg, [x, y]) => { const at = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM()); "
    place = board.evaluate(turn + "return [at.x, at.y] }", [float(corner[0]), float(corner[1])])
    return place[0], place[1]


def mark(page, corners):
    """Each corner dragged to its place, as a finger does."""
    handles = page.get_by_label("Camera", exact=True).locator("svg [role=button]")
    expect(handles).to_have_count(4)
    for number, corner in enumerate(corners):
        box = handles.nth(number).bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(*on_the_film(page, corner), steps=4)
        page.mouse.up()


def marked_at(database_url):
    with psycopg.connect(database_url) as owner:
        return [row[0] for row in owner.execute("select told from watch").fetchall()]


@pytest.mark.slow
def test_a_thing_that_lands_under_the_phone_rings_with_its_picture(
    open_page, whole_chromium, database_url, tmp_path
):
    scene = Scene(seed=4, kind="landed", minutes=14.0)
    as_film(scene, tmp_path / "scene.y4m")
    browser = whole_chromium(
        "--use-fake-ui-for-media-stream",
        "--use-fake-device-for-media-stream",
        f"--use-file-for-fake-video-capture={tmp_path / 'scene.y4m'}",
    )
    page = piece_at(open_page, "Planter rings", "pour", browser=browser)
    run = begin(page, rehearse=False)
    page.get_by_role("link", name="Camera").click()
    expect(page.get_by_text("It is a help and no guard")).to_be_visible()
    assert complaints_of_axe(page) == []
    page.get_by_role("button", name="Use this device's camera").click()
    page.get_by_role("button", name="Take the picture to mark").click()
    expect(page.get_by_text("The outline was found")).to_be_visible()
    mark(page, scene.corners_px)
    page.get_by_label("long, far left to far right").fill(f"{scene.length_mm:.0f} mm")
    page.get_by_label("wide, far to near").fill(f"{scene.width_mm:.0f} mm")
    page.clock.install()
    page.get_by_label("a picture every").select_option(label="10 s")
    assert complaints_of_axe(page) == []
    with eyes(database_url):
        page.get_by_role("button", name="Watch from now on").click()
        expect(page.get_by_role("heading", name="The camera watches")).to_be_visible()
        rings = page.get_by_role("alertdialog", name="Alarm")
        until = time.monotonic() + 480
        while not (rings.count() and "landed" in rings.inner_text()):
            assert time.monotonic() < until, page.inner_text("main")
            page.clock.fast_forward(10_000)
            page.wait_for_timeout(1000 / A_SECOND)
            if rings.count() and "landed" not in rings.inner_text():
                page.get_by_role("button", name=HEARD).click()  # a step's own alarm: the clock was turned on
        expect(rings.get_by_text("tweezers")).to_be_visible()
        expect(rings.locator("svg image")).to_be_visible()
        # The clock was turned on: steps ring by themselves at any moment from here on, over what is tapped
        page.get_by_role("button", name=HEARD).click()
        page.add_locator_handler(rings, lambda: page.get_by_role("button", name=HEARD).click())
        expect(rings.filter(has_text="tweezers")).to_have_count(0)
    (row,) = marked_at(database_url)
    told = np.array(row["corners_px"])
    assert np.abs(told - scene.corners_px).max() < 6  # where the fingers let go
    seen = page.get_by_label("Seen by the camera")
    expect(seen.get_by_text("landed").first).to_be_visible()
    page.get_by_role("button", name="End watching").click()
    expect(page.get_by_text("ended by")).to_be_visible()
    assert complaints_of_axe(page) == []
    page.get_by_role("link", name="back to the run").click()
    expect(page.locator("main.bench-mode h1")).to_be_visible()
    told = [one.event for one in stored(database_url, run) if isinstance(one.event, Saw)]
    assert "landed" in {one.what for one in told} and all(one.sha256 for one in told if one.what == "landed")


def test_a_photo_in_low_side_light_is_marked_and_stands_beside_the_one_before(open_page, tmp_path):
    face = Face(103)
    Image.fromarray(face.picture).save(tmp_path / "low.jpg", quality=95)
    page = piece_at(open_page, "Planter rings", "pour")
    begin(page, rehearse=False)
    page.get_by_role("button", name="Note, photo, reading").click()
    page.get_by_role("link", name="Photo in low side light").click()
    for when in ("before the pour", "at the inspection"):
        if when == "at the inspection":  # nobody answers: said, and the corners are set by hand
            page.route("**/api/v1/faces", lambda route: route.abort())
        page.get_by_label("Take or choose a photo").set_input_files(tmp_path / "low.jpg")
        handles = page.locator("form svg [role=button]")
        expect(handles).to_have_count(4)
        expect(page.get_by_text("Looking for the outline")).to_have_count(0)
        expect(page.get_by_text("could not be looked for")).to_have_count(int(when == "at the inspection"))
        for number, corner in enumerate(face.corners_px):
            box = handles.nth(number).bounding_box()
            turn = "(svg, [x, y]) => { const at = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM()); "
            to = page.locator("form svg").first.evaluate(
                turn + "return [at.x, at.y] }", [float(value) for value in corner]
            )
            page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
            page.mouse.down()
            page.mouse.move(*to, steps=4)
            page.mouse.up()
        page.get_by_label("long, far left to far right").fill(f"{face.length_mm:.0f} mm")
        page.get_by_label("wide, far to near").fill(f"{face.width_mm:.0f} mm")
        page.get_by_label("the lamp stands on which side").select_option(face.lamp)
        page.get_by_label("taken").select_option(when)
        assert complaints_of_axe(page) == []
        page.get_by_role("button", name="Count and mark").click()
        expect(page.get_by_role("status").filter(has_text=f"spots {when}")).to_be_visible()
    both = page.get_by_label("Photos in low side light").get_by_role("listitem")
    expect(both).to_have_count(2)
    expect(both.first.locator("circle").first).to_be_visible()
    counted = int(both.last.inner_text().partition(" spots")[0])
    assert abs(counted - len(face.truth)) <= 3 and both.last.locator("circle").count() == 2 * counted
