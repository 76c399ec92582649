"""Raw files in, and out again: a folder, a ZIP, a layered file, again as last time, and the ledger."""

import io
import re
import zipfile
from pathlib import Path

import imagecodecs
import numpy as np
import pyora
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.support.application import Application
from tests.support.desk import SIZE, brush, open_shoot, state, stroke
from tests.support.raws import write_dng
from tests.support.similarities import straightened


@pytest.fixture
def name(request: pytest.FixtureRequest) -> str:
    """Of a shoot for one test alone."""
    return str(request.node.name).replace("_", " ")


@pytest.fixture
def shoot(blank: Page, application: Application, photo: Path, tmp_path: Path, name: str) -> Page:
    """A shoot of three: a raw file, a JPEG, and the photograph with its rod, which is filled and picked."""
    scene = np.full((96, 128, 3), 0.2)
    scene[:, 64:] = (0.3, 0.18, 0.08)
    write_dng(tmp_path / "raw-1.dng", scene)
    Image.new("RGB", (90, 60), (90, 120, 60)).save(tmp_path / "lawn-2.jpg")
    page = blank
    open_shoot(blank, application.address, name, [photo, tmp_path / "raw-1.dng", tmp_path / "lawn-2.jpg"])
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    return page


def test_what_is_there_already_is_said_and_not_taken_twice(shoot: Page, photo: Path, name: str) -> None:
    page = shoot
    page.get_by_role("link", name="All shoots").click()
    made = page.get_by_role("region", name=name)
    made.get_by_label(f"Pictures for {name}").set_input_files([str(photo)])
    expect(made.get_by_role("status")).to_contain_text("rod.png is already in this shoot.")
    expect(made.get_by_role("link")).to_have_count(3)
    expect(made.get_by_role("link", name="raw-1.dng")).to_be_visible()


def test_three_frames_into_a_folder_and_again(shoot: Page, tmp_path: Path, name: str) -> None:
    page, out = shoot, tmp_path / "client"
    page.get_by_role("link", name="All shoots").click()
    made = page.get_by_role("region", name=name)
    made.get_by_label("Choose raw-1.dng").click()
    tools = page.get_by_role("toolbar", name="Chosen frames")
    tools.get_by_role("button", name="All").click()
    tools.get_by_role("button", name="Deliver as last time").click()
    expect(tools.get_by_role("alert")).to_contain_text("has not been delivered yet")
    tools.get_by_role("button", name="Deliver…").click()
    expect(page.get_by_role("heading", name="Deliver 3 pictures")).to_be_visible()
    expect(page.get_by_role("radio", name=re.compile("Like the original"))).to_be_checked()
    expect(page.get_by_text("Each in its original format")).to_be_visible()
    names = page.get_by_label("Names")
    page.get_by_role("radio", name=re.compile("^PNG")).check()
    names.fill("all")
    expect(page.get_by_text("Several pictures would be named all")).to_be_visible()
    go = page.get_by_role("button", name=re.compile("^Deliver"))
    expect(go).to_be_disabled()
    page.get_by_role("radio", name=re.compile("^Like the original")).check()
    names.fill("{shoot}/{number} {name}")
    expect(page.get_by_text(f"{name}/1 lawn-2.jpg and so on")).to_be_visible()
    page.get_by_role("radio", name=re.compile("A folder on the machine")).check()
    page.get_by_label("Folder", exact=True).fill("delivered")
    expect(page.get_by_text("Enter the full path")).to_be_visible()
    page.get_by_label("Folder", exact=True).fill(str(out))
    expect(go).to_be_enabled()
    go.click()
    expect(page.get_by_text(f"3 pictures saved in {out}.")).to_be_visible()
    files = sorted(each.name for each in (out / name).iterdir())
    assert files == ["1 lawn-2.jpg", "2 raw-1.tif", "3 rod.png"]
    # What was not touched is the file that came in.
    assert (out / name / "1 lawn-2.jpg").read_bytes() == (tmp_path / "lawn-2.jpg").read_bytes()
    expect(page.get_by_text("3 files exist already.")).to_be_visible()
    expect(page.get_by_role("button", name="Deliver and overwrite")).to_be_enabled()
    # Again as last time, from the desk: nothing is written over, and what is missing is written.
    page.get_by_role("link", name="Back to the shoots").click()
    made.get_by_role("link", name="rod.png").click()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    (out / name / "3 rod.png").unlink()
    page.keyboard.press("F7")
    expect(page.get_by_text("Saved as", exact=False)).to_contain_text("1 rod.png")
    page.keyboard.press("F7")
    expect(page.get_by_role("alert")).to_contain_text(re.compile("exists? already"))


def test_a_layered_file_a_zip_and_the_ledger(shoot: Page, tmp_path: Path, name: str) -> None:
    page = shoot
    page.keyboard.press("F6")
    expect(page.get_by_role("heading", name="Deliver", exact=True)).to_be_visible()
    page.get_by_role("radio", name=re.compile("^Layered, OpenRaster")).check()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver", exact=True).click()
    assert download.value.suggested_filename == "rod-swept.ora"
    download.value.save_as(tmp_path / "a.ora")
    layers = [layer.name for layer in pyora.Project.load(str(tmp_path / "a.ora")).children_recursive]
    assert layers[-1] == "As shot"
    assert len(layers) == 2
    page.get_by_role("radio", name=re.compile("^Like the original")).check()
    page.get_by_label("Save the masks as PNG files too").check()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver", exact=True).click()
    with zipfile.ZipFile(io.BytesIO(Path(download.value.path()).read_bytes())) as file:
        assert file.namelist() == ["rod-swept.png", "rod-swept-mask-1.png"]
    page.get_by_role("link", name="Ledger").click()
    row = page.get_by_role("row").nth(1)
    expect(row).to_contain_text("Keen Sweep")
    expect(row).to_contain_text("seed")
    with page.expect_download() as download:
        page.get_by_text("Spreadsheet (CSV)").click()
    assert "rod.png" in Path(download.value.path()).read_text()
    with page.expect_popup() as printed:
        page.get_by_text("Printable page").click()
    expect(printed.value.get_by_role("heading", name=name)).to_be_visible()
    expect(printed.value.get_by_role("heading", name="rod.png")).to_be_visible()


def test_a_newer_version_is_taken_up_and_fills_are_laid_again(shoot: Page, photo: Path, tmp_path: Path) -> None:
    page = shoot
    with Image.open(photo) as image:
        newer = (np.asarray(image).astype(np.uint16) * 257 * 0.8).astype(np.uint16)
    (tmp_path / "rod, 16 bit.png").write_bytes(imagecodecs.png_encode(newer))
    Image.fromarray(np.zeros((60, 90, 3), np.uint8)).save(tmp_path / "small.png")
    page.get_by_role("tab", name="History").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Newer version…").click()
    chooser.value.set_files(tmp_path / "small.png")
    expect(page.get_by_role("alert")).to_contain_text("does not show the same picture")
    page.get_by_role("alert").get_by_role("button", name="Close").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Newer version…").click()
    chooser.value.set_files(tmp_path / "rod, 16 bit.png")
    bar = page.get_by_role("region", name="Out of step")
    expect(bar).to_contain_text("One fill is out of step")
    expect(page.get_by_role("list", name="History")).to_contain_text("newer version, rod, 16 bit.png")
    page.get_by_role("tab", name="Job sheet").click()
    state(page, 1, "out of step")
    bar.get_by_role("button", name="Lay them again").click()
    state(page, 1, "kept")
    expect(bar).to_have_count(0)
    expect(page.get_by_text("One fill laid again.")).to_be_visible()
    page.keyboard.press("Control+z")
    state(page, 1, "out of step")
    page.keyboard.press("Control+z")
    state(page, 1, "kept")
    page.keyboard.press("Control+Shift+Z")
    state(page, 1, "out of step")
    page.keyboard.press("F3")
    state(page, 1, "kept")
    page.keyboard.press("F6")
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver", exact=True).click()
    made = imagecodecs.png_decode(Path(download.value.path()).read_bytes())
    assert made.dtype == np.uint16
    assert np.array_equal(made[200:], newer[200:])


def test_a_straightened_version_is_taken_up_from_a_folder_and_filled_anew(
    shoot: Page, photo: Path, tmp_path: Path, name: str
) -> None:
    page = shoot
    page.get_by_role("link", name="All shoots").click()
    section = page.get_by_role("region", name=name, exact=True)
    section.get_by_role("button", name="Watch a folder").click()
    panel = section.get_by_role("region", name="Watched folder")
    panel.get_by_label("Folder with newer versions").fill(str(tmp_path / "nowhere"))
    panel.get_by_role("button", name="Watch it").click()
    expect(panel.get_by_role("alert")).to_contain_text("There is no folder")
    folder = tmp_path / "developed"
    folder.mkdir()
    panel.get_by_label("Folder with newer versions").fill(str(folder))
    panel.get_by_role("button", name="Watch it").click()
    expect(section.get_by_role("button", name="Watching a folder")).to_be_visible()
    with Image.open(photo) as image:
        newer, _ = straightened(np.asarray(image), 2, 0.1)
    Image.fromarray(newer).save(folder / f"{photo.stem} level.png")
    expect(panel.get_by_text("One file was taken up.")).to_be_visible()
    section.get_by_role("link", name=photo.name).click()
    bar = page.get_by_role("region", name="Out of step")
    expect(bar).to_contain_text("One fill is out of step")
    bar.get_by_role("button", name="Fill them again").click()
    expect(bar).to_have_count(0)
    state(page, 1, "provisional")
