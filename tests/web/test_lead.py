"""Lead lines through the real interface: drawn through a mask, heeded by the next fill, taken away, undone."""

from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, brush, state, stroke


def test_lines_and_an_arrow_are_drawn_heeded_removed_and_undone(desk: Page) -> None:
    page = desk
    # A mask over a piece of the rod, which goes on in it.
    brush(page, 40)
    stroke(page, SIZE, (490, 42), (510, 46))
    state(page, 1, "marked")
    page.keyboard.press("Shift+L")
    draw = page.get_by_role("button", name="Draw a line")
    expect(draw).to_have_attribute("aria-pressed", "true")
    stroke(page, SIZE, (450, 30), (500, 40), (550, 50))
    expect(page.get_by_role("button", name="Remove line 1")).to_be_visible()
    expect(page.get_by_test_id("sweep-2")).to_have_count(0)
    stroke(page, SIZE, (100, 300), (140, 300))
    expect(page.get_by_text("This line does not cross the mask.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(draw).to_have_attribute("aria-pressed", "false")
    page.keyboard.press("Shift+A")
    expect(page.get_by_role("button", name="Draw an arrow")).to_have_attribute("aria-pressed", "true")
    stroke(page, SIZE, (500, 43), (500, 100))
    expect(page.get_by_text("Begin the arrow outside the mask")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+A")
    stroke(page, SIZE, (500, 100), (500, 43))
    expect(page.get_by_role("button", name="Remove arrow 2")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+X")
    expect(page.get_by_text("Draw the axis of what is symmetrical")).to_be_visible()
    stroke(page, SIZE, (420, 20), (420, 200))
    expect(page.get_by_role("button", name="Remove axis 3")).to_be_visible()
    page.keyboard.press("Shift+R")
    expect(page.get_by_text("Draw along the row")).to_be_visible()
    stroke(page, SIZE, (400, 44), (600, 44))
    expect(page.get_by_role("button", name="Remove row 4")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    state(page, 1, "provisional")
    page.get_by_role("button", name="Remove line 1").click()
    expect(page.get_by_role("button", name="Remove line 1")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Remove line 1")).to_be_visible()
