"""The page of shoots: names, search, deletion and a way back; addresses that lead nowhere."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect


@pytest.fixture
def shoots(page: Page, photo: Path, request: pytest.FixtureRequest) -> tuple[Page, str]:
    name = str(request.node.name).replace("_", " ")
    page.get_by_label("Name of the new shoot").fill(name)
    page.get_by_role("button", name="Make shoot").click()
    made = page.get_by_role("region", name=name, exact=True)
    expect(made).to_contain_text("No pictures yet")
    made.get_by_label(f"Pictures for {name}").set_input_files([str(photo)])
    expect(made.get_by_role("link", name="rod.png")).to_be_visible()
    return page, name


def test_a_shoot_is_renamed_deleted_and_brought_back(shoots: tuple[Page, str]) -> None:
    page, name = shoots
    made = page.get_by_role("region", name=name, exact=True)
    made.get_by_role("button", name="Rename").click()
    field = page.get_by_label("Name of the shoot", exact=True)
    field.fill(f"{name}, second day")
    field.press("Enter")
    later = page.get_by_role("region", name=f"{name}, second day", exact=True)
    expect(later.get_by_role("link", name="rod.png")).to_be_visible()
    later.get_by_role("button", name="Delete", exact=True).click()
    later.get_by_role("button", name="Delete it, with one picture").click()
    expect(later).to_have_count(0)
    page.get_by_role("button", name=f"Bring back {name}, second day").click()
    expect(later.get_by_role("link", name="rod.png")).to_be_visible()


def test_a_picture_is_removed_and_brought_back(shoots: tuple[Page, str]) -> None:
    page, name = shoots
    made = page.get_by_role("region", name=name, exact=True)
    expect(made.get_by_text("untouched")).to_be_visible()
    made.get_by_label("Choose rod.png").check()
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(made.get_by_role("link", name="rod.png")).to_have_count(0)
    page.get_by_role("button", name=f"Bring back rod.png of {name}").click()
    expect(made.get_by_role("link", name="rod.png")).to_be_visible()


def test_pictures_and_shoots_are_searched(shoots: tuple[Page, str]) -> None:
    page, name = shoots
    made = page.get_by_role("region", name=name, exact=True)
    page.get_by_role("searchbox").fill("ROD")
    expect(made.get_by_role("link", name="rod.png")).to_be_visible()
    page.get_by_role("searchbox").fill("no such picture")
    expect(made).to_have_count(0)
    page.get_by_role("searchbox").fill(name)
    expect(made).to_be_visible()


def test_an_address_that_leads_nowhere_says_so(page: Page) -> None:
    page.goto(page.url.rstrip("/") + "/framse/3")
    expect(page.get_by_role("alert")).to_contain_text("/framse/3")
    page.get_by_role("link", name="To the shoots").click()
    expect(page.get_by_label("Name of the new shoot")).to_be_visible()
