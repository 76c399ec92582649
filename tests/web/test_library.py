"""The page of the library: what room it takes, giving some of it back, a report."""

import json
import re
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path

import httpx
import imagecodecs
import numpy as np
from playwright.sync_api import Page, expect

from tests.support.application import Application
from tests.support.desk import SIZE, brush, state, stroke, until
from tests.support.ports import free_port
from tests.support.waiting import PATIENCE


def test_room_is_shown_and_given_back(desk: Page, application: Application) -> None:
    page = desk
    page.goto(f"{application.address}/library")
    name = "test room is shown and given back"
    expect(page.get_by_role("row", name=name)).to_contain_text("1")
    page.get_by_role("button", name="Free up").click()
    expect(page.get_by_role("status")).to_contain_text("Freed")

    def nothing_left() -> bool:
        nothing = page.get_by_role("button", name="Free up 0 kB")
        if nothing.count():
            return nothing.is_disabled()
        # Scouts that still look at a picture have made views again meanwhile.
        page.get_by_role("button", name="Free up").click()
        return False

    until(page, nothing_left)
    # The picture is as it was, from views that are made again.
    page.goto(application.address)
    page.get_by_role("region", name=name, exact=True).get_by_role("link", name="rod.png").click()
    expect(page.get_by_test_id("picture")).to_be_visible()


def test_a_report_is_saved_in_one_click(page: Page, application: Application, tmp_path: Path) -> None:
    page.get_by_role("link", name="Library").click()
    with page.expect_download() as coming:
        page.get_by_role("link", name="Save a report").click()
    coming.value.save_as(tmp_path / "report.zip")
    with zipfile.ZipFile(tmp_path / "report.zip") as report:
        assert {"README.txt", "about.json", "runs.json"} <= set(report.namelist())


def test_a_page_that_cannot_be_loaded_says_so_and_comes_once_it_can(page: Page) -> None:
    """As after an update: what the open window would load is gone."""
    page.route("**/assets/LibraryPage-*.js", lambda route: route.abort())
    page.get_by_role("link", name="Library").click()
    expect(page.get_by_role("heading", name="This page could not be shown")).to_be_visible()
    expect(page.get_by_role("link", name="Save a report")).to_have_attribute("href", "/api/report")
    page.unroute("**/assets/LibraryPage-*.js")
    page.get_by_role("button", name="Reload").click()
    expect(page.get_by_role("heading", name="Library")).to_be_visible()


def test_takes_stand_in_the_order_of_picks_and_the_library_says_so(desk: Page, application: Application) -> None:
    page = desk
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    # A hurried hand does not wait until the mark is kept.
    page.keyboard.press("f")
    state(page, 1, "provisional")
    tray = page.get_by_label("Takes", exact=True)
    expect(tray.get_by_text("best", exact=True)).to_be_visible()
    # Of somebody who has picked what is smooth, fifteen times, and nothing else.
    httpx.delete(f"{application.address}/api/taste").raise_for_status()
    words = ("fine", "coarse", "unlike", "repeats", "softness")
    with closing(sqlite3.connect(application.library / "library.db", timeout=30)) as db, db:
        for k in range(15):
            told = [json.dumps(dict(zip(words, each, strict=True))) for each in ((2, 2, 1, 0, 0.5), (3, 2, 1, 0, 0))]
            row = (f"picked-{k}", told[0], f"[{told[1]}]")
            db.execute("INSERT INTO picked (sweep_id, picked, others, at) VALUES (?, ?, ?, '2030-01-01')", row)
        weights = json.dumps(dict(zip(words, (1.5, 0.7, 0.6, 0.2, 0.0), strict=True)))
        db.execute("INSERT OR REPLACE INTO taste (id, followed, weights) VALUES (1, 1, ?)", (weights,))
    page.reload()
    page.get_by_test_id("sweep-1").click()
    expect(tray.get_by_text(re.compile(r"^best by \d+ picks$"))).to_be_visible(timeout=1_000 * PATIENCE)

    page.get_by_role("link", name="All shoots").click()
    page.get_by_role("link", name="Library").click()
    picks = page.get_by_role("region", name="Your picks")
    expect(picks).to_contain_text(re.compile(r"Your \d+ picks avoid .* than the default ranking"))
    with page.expect_download() as saved:
        picks.get_by_text("Save my picks").click()
    assert len(json.loads(Path(saved.value.path()).read_text())["picks"]) >= 15
    follow = picks.get_by_role("button", name="Follow my picks")
    follow.click()
    expect(follow).to_have_attribute("aria-pressed", "false")
    page.go_back()
    page.go_back()
    page.get_by_test_id("sweep-1").click()
    expect(tray.get_by_text("best", exact=True)).to_be_visible()

    page.go_forward()
    page.go_forward()
    follow.click()
    expect(follow).to_have_attribute("aria-pressed", "true")
    picks.get_by_role("button", name="Forget my picks").click()
    expect(picks).to_contain_text("So far: 0")
    # As other tests want it.
    follow.click()
    expect(follow).to_have_attribute("aria-pressed", "false")


def test_a_token_is_made_shown_once_and_revoked(page: Page, application: Application) -> None:
    page.get_by_role("link", name="Library").click()
    here = page.get_by_role("region", name="Tokens for scripts")
    here.get_by_label("What the token is for").fill("nightly batch")
    here.get_by_role("combobox", name="Scope").select_option("edit")
    expect(here).to_contain_text("accept no price")
    here.get_by_role("button", name="Create a token").click()
    words = here.locator("code").inner_text()
    token = {"Authorization": f"Bearer {words}"}
    assert httpx.get(f"{application.address}/api/shoots", headers=token).status_code == 200
    page.reload()
    expect(here).to_contain_text("nightly batch")
    expect(here.locator("code")).to_have_count(0)
    here.get_by_role("button", name="Revoke nightly batch").click()
    expect(here).not_to_contain_text("nightly batch")
    assert httpx.get(f"{application.address}/api/shoots", headers=token).status_code == 401


def test_another_program_is_told_and_it_is_seen_whether_it_heard(page: Page, application: Application) -> None:
    page.get_by_role("link", name="Library").click()
    part = page.get_by_role("region", name="Webhook")
    # Nobody listens there.
    part.get_by_label("Webhook address").fill(f"http://127.0.0.1:{free_port()}/hook")
    part.get_by_role("button", name="Add webhook").click()
    expect(part.get_by_role("status")).to_contain_text("whsec_")
    part.get_by_role("button", name="Send a test").click()
    expect(part).to_contain_text("test")
    expect(part).to_contain_text("It cannot be reached (ConnectError).")
    part.get_by_role("button", name="Remove webhook").click()
    expect(part.get_by_role("button", name="Send a test")).to_have_count(0)
    expect(part.get_by_role("status")).to_have_count(0)


def test_a_page_that_is_longer_than_the_window_has_one_ground(page: Page) -> None:
    page.set_viewport_size({"width": 1024, "height": 300})
    page.get_by_role("link", name="Library").click()
    page.get_by_role("link", name="Save a report").scroll_into_view_if_needed()
    pixels = np.asarray(imagecodecs.png_decode(page.screenshot()))
    assert (pixels[-4, -4] == pixels[4, -4]).all(), "the foot of the page is as its head"
