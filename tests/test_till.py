"""The books of the simulated service: whatever is asked in whatever order, nothing is paid twice or for nothing."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
import pytest
from hypothesis import strategies as some
from hypothesis.stateful import Bundle, RuleBasedStateMachine, invariant, rule
from numpy.typing import NDArray

from keen_sweep.remote.wire import PaintingIn
from keen_sweep.simulated.skin import looks_like_skin
from keen_sweep.simulated.till import Job, OtherRequest, Till, TooFew, account_of, price

MINE = account_of("mine")
BEGIN = 12.0


class Books(RuleBasedStateMachine):
    """Paintings asked for, painted, refused, withdrawn, and the process killed in between."""

    jobs = Bundle("jobs")

    def __init__(self) -> None:
        super().__init__()
        self.room = TemporaryDirectory()
        self.till = Till(Path(self.room.name))
        self.till.set_credits("mine", BEGIN)
        self.charged: dict[str, int] = {}

    def teardown(self) -> None:
        self.room.cleanup()

    @rule(target=jobs, name=some.sampled_from("abcd"), body=some.sampled_from(["x", "y"]), cost=some.integers(1, 5))
    def ask(self, name: str, body: str, cost: int) -> str:
        asked = PaintingIn(picture=body, hole=body)
        before = {job.id: job.state for job in self.till.books.jobs}
        try:
            job = self.till.take_in(MINE, name, asked, cost, 0)
        except TooFew:
            assert self.till.free(MINE) < cost
            return ""
        except OtherRequest:
            assert any(each.name == name for each in self.till.books.jobs)
            return ""
        if job.id in before:
            assert before[job.id] in ("queued", "painting", "done"), "what came to nothing begins anew"
        return job.id

    @rule()
    def paint(self) -> None:
        job = self.till.next()
        if job:
            assert job.state == "painting"

    @rule(job=jobs, how=some.sampled_from(["done", "refused", "failed", "withdrawn"]))
    def end(self, job: str, how: str) -> None:
        found = self.till.job(MINE, job)
        if found is None:
            return
        was = found.state
        self.till.end(found, how)  # type: ignore[arg-type]
        if was in ("done", "refused", "failed", "withdrawn"):
            assert found.state == was, "an end is an end"
        elif how == "done":
            self.charged[job] = self.charged.get(job, 0) + 1

    @rule()
    def kill(self) -> None:
        self.till = Till(Path(self.room.name))
        assert all(job.state != "painting" for job in self.till.books.jobs)

    @invariant()
    def nothing_is_paid_twice_or_for_nothing(self) -> None:
        done = [job for job in self.till.books.jobs if job.state == "done"]
        assert all(count == 1 for count in self.charged.values())
        assert {job.id for job in done} == set(self.charged)
        assert self.till.books.credits[MINE] == BEGIN - sum(job.price for job in done)
        assert all(job.charged == (job.price if job.state == "done" else 0) for job in self.till.books.jobs)
        assert self.till.free(MINE) >= 0

    @invariant()
    def one_name_is_one_living_request(self) -> None:
        living = [job.name for job in self.till.books.jobs if job.state in ("queued", "painting", "done")]
        assert len(living) == len(set(living))


TestBooks = Books.TestCase


@pytest.mark.parametrize(("size", "credits"), [((512, 512), 1), ((513, 512), 2), ((1024, 1024), 4), ((8, 8), 1)])
def test_a_credit_buys_so_many_pixels(size: tuple[int, int], credits: int) -> None:
    assert price(*size) == credits


def test_what_is_said_of_a_painting(tmp_path: Path) -> None:
    till = Till(tmp_path)
    till.set_credits("mine", 9)
    first, second = (till.take_in(MINE, name, PaintingIn(picture=name, hole=name), 2, 1) for name in "ab")
    told = till.told(second, delay=3)
    assert (told.state, told.ahead, told.credits, told.left) == ("queued", 2, 0, 9)
    assert told.seconds_left == 12
    assert till.next() is first
    till.end(first, "done")
    told = till.told(first, delay=3)
    assert (told.state, told.credits, told.left, told.seconds_left) == ("done", 2, 7, None)
    assert till.job(account_of("another"), first.id) is None, "nobody sees what another account asked for"


def test_skin_is_told_from_ground() -> None:
    hole = np.ones((20, 20), bool)

    def flat(*colour: int) -> NDArray[Any]:
        return np.full((20, 20, 3), colour, np.uint8)

    for skin in ((224, 172, 145), (198, 134, 104), (141, 92, 70)):
        assert looks_like_skin(flat(*skin), hole), skin
    for ground in ((92, 122, 48), (168, 160, 148), (120, 160, 210), (60, 60, 62), (240, 240, 240)):
        assert not looks_like_skin(flat(*ground), hole), ground
    assert not looks_like_skin(flat(224, 172, 145), np.zeros((20, 20), bool))


def test_a_job_that_is_read_back_is_the_same(tmp_path: Path) -> None:
    till = Till(tmp_path)
    till.set_credits("mine", 9)
    job = till.take_in(MINE, "a", PaintingIn(picture="p", hole="h", hint="grass"), 2, 1)
    assert Till(tmp_path).books.jobs == [Job.model_validate(job.model_dump())]
    assert PaintingIn.model_validate_json(till.request_file(job.id).read_bytes()).hint == "grass"
