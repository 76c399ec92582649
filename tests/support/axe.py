"""axe-core on a page."""

from pathlib import Path

from playwright.sync_api import Page

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


def faults(page: Page) -> list[str]:
    """What axe-core objects to on the page as it is, each with the first place of it."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found = page.evaluate("rules => axe.run(document, { runOnly: rules })", RULES)
    return [f"{each['id']}: {each['nodes'][0]['html'][:160]}" for each in found["violations"]]
