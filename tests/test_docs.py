"""The documents: lines that fit an editor, links that lead somewhere, promises whose tests are there."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
PAGES = [*ROOT.glob("*.md"), *(ROOT / "docs").glob("*.md")]
WIDTH = 100
LINK = re.compile(r"\]\(([^)#\s]+)(#[^)\s]*)?\)")
TEST = re.compile(r"`(tests/[\w/]+(?:\.py)?)`")


def _prose(text: str) -> list[str]:
    """The lines of a page that are neither tables, code, pictures nor one long word."""
    fence, out = False, []
    for line in text.splitlines():
        if line.lstrip().startswith("```"):
            fence = not fence
        elif not fence and not line.startswith(("|", "    ", "![")) and " " in line.strip(" -*"):
            out.append(line)
    return out


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_lines_fit_an_editor(page: Path) -> None:
    # A link or a command in code cannot be broken.
    long = [line for line in _prose(page.read_text()) if len(line) > WIDTH and not re.search(r"`[^`]{60,}`", line)]
    assert long == []


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_lead_somewhere(page: Path) -> None:
    targets = [target for target, _ in LINK.findall(page.read_text()) if "://" not in target]
    assert [target for target in targets if not (page.parent / target).exists()] == []


@pytest.mark.parametrize("name", ["trust.md", "install.md"])
def test_every_promise_names_a_test_that_is_there(name: str) -> None:
    text = (ROOT / "docs" / name).read_text()
    named = TEST.findall(text)
    assert named
    assert [each for each in named if not (ROOT / each).exists()] == []
    promises = [line for line in text.splitlines() if line.startswith("|") and "tested by" not in line]
    table = text.split("| tested by |")[1].split("\n\n")[0].splitlines()[2:]
    assert promises
    assert [row for row in table if not TEST.search(row)] == []
