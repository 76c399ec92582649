"""The page of the library: what room it takes, giving some of it back, a report."""

import zipfile
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.application import Application
from tests.web.desk import until


def test_room_is_shown_and_given_back(desk: Page, application: Application) -> None:
    page = desk
    page.goto(f"{application.address}/library")
    name = "test room is shown and given back"
    expect(page.get_by_role("row", name=name)).to_contain_text("1")
    page.get_by_role("button", name="Give back").click()
    expect(page.get_by_role("status")).to_contain_text("are free again")

    def nothing_left() -> bool:
        nothing = page.get_by_role("button", name="Give back 0 kB")
        if nothing.count():
            return nothing.is_disabled()
        # Scouts that still look at a picture have made views again meanwhile.
        page.get_by_role("button", name="Give back").click()
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
    page.get_by_role("button", name="Load it again").click()
    expect(page.get_by_role("heading", name="Library")).to_be_visible()
