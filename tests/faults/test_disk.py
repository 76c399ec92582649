"""A disk that is full or away: every step of the journey says so, loses nothing, and goes on afterwards."""

from collections.abc import Callable
from pathlib import Path

import httpx
import pytest

from tests.faults.conftest import Disk
from tests.support.application import Application
from tests.support.journey import Journey, noise
from tests.support.waiting import until
from tests.support.whole import look_whole

pytestmark = pytest.mark.slow

Step = Callable[[Journey], httpx.Response]
# What needs room, most of it so much that there is no doing without: marks of thousands of points, large pictures.
STEPS: dict[str, Step] = {
    "upload": lambda j: j.upload(noise(next(j.seeds), 500), "large.png"),
    "mark": lambda j: j.mark(120, 20_000),
    "touch up": lambda j: j.touch(),
    "fill": lambda j: j.fill(),
    "undo": lambda j: j.undo(),
}
REFUSED, MADE = 507, (200, 201, 202)


def refused(answer: httpx.Response, *words: str) -> None:
    assert answer.status_code == REFUSED, answer.text
    told = answer.json()
    assert told["type"] == "/problems/library-trouble"
    assert any(word in told["detail"] for word in words), told["detail"]


@pytest.mark.parametrize("step", STEPS)
def test_a_full_disk_is_said_and_nothing_is_lost(disk: Disk, journey: Journey, step: str) -> None:
    before = journey.work()
    disk.fill()
    try:
        answer = STEPS[step](journey)
        if answer.status_code in MADE:
            # There was room for that: then it is there.
            before = journey.work()
        else:
            refused(answer, "No space left", "full")
        assert journey.work() == before
        refused(STEPS["upload"](journey), "No space left", "full")
    finally:
        disk.empty()
    until(lambda: not journey.busy())
    assert STEPS[step](journey).status_code in MADE
    until(lambda: not journey.busy())
    assert journey.work()["takes"] >= before["takes"]


def test_a_delivery_leaves_no_half_file(disk: Disk, journey: Journey) -> None:
    target = disk.folder / "delivered"
    target.mkdir()
    disk.fill()
    try:
        refused(journey.deliver(target), "No space left", "not enough space", "full")
        assert list(target.iterdir()) == []
    finally:
        disk.empty()
    assert journey.deliver(target).status_code in MADE
    assert [each.stat().st_size > 0 for each in target.iterdir()] == [True]


def test_a_fill_that_finds_no_room_ends_and_can_be_asked_for_again(disk: Disk, journey: Journey) -> None:
    before = journey.work()["takes"]
    journey.fill().raise_for_status()
    disk.fill()
    try:
        # Whatever it comes to, the desk is told from what is there.
        assert journey.work()["takes"] >= before
    finally:
        disk.empty()
    until(lambda: not journey.busy())
    there = journey.work()["takes"]
    journey.fill().raise_for_status()
    until(lambda: not journey.busy() and journey.work()["takes"] > there)


def test_a_share_that_is_away_is_not_taken_for_an_empty_library(served: Application, journey: Journey) -> None:
    before = journey.work()
    aside = served.library.with_name("aside")
    served.library.rename(aside)
    # An empty folder is left where the share was.
    served.library.mkdir()
    refused(STEPS["upload"](journey), "No such file")
    health = journey.client.get("/api/health")
    assert health.status_code == 503
    assert "not there" in health.json()["detail"]
    assert left_in(served.library) == [], "nothing is begun anew"
    served.library.rmdir()
    aside.rename(served.library)
    until(lambda: journey.client.get("/api/health").status_code == 200)
    assert journey.work() == before
    assert STEPS["upload"](journey).status_code in MADE
    assert STEPS["fill"](journey).status_code in MADE
    until(lambda: not journey.busy())


def test_after_all_of_it_the_library_is_whole(served: Application, journey: Journey) -> None:
    look_whole(served, journey)


def left_in(folder: Path) -> list[str]:
    return [str(each.relative_to(folder)) for each in folder.rglob("*") if each.is_file()]
