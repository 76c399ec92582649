"""A worker killed anywhere in a paid fill: every credit is booked once, and no take is lost."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from concurrent.futures import BrokenExecutor
from pathlib import Path
from typing import Any

import pytest
from pydantic import SecretStr
from sqlmodel import select

from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.model import engine
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.remote.adapter import ServiceModel
from keen_sweep.remote.exchange import Exchange
from keen_sweep.simulated.app import DEMO_KEY
from keen_sweep.store.check import check
from keen_sweep.store.files import Files
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Payment, Run
from keen_sweep.store.words import ModelKind, RunState
from keen_sweep.studio import desk
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.budget import spent_in
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.sweep_method import choose_model
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.models.register import ModelChange, change_model, register, set_key
from keen_sweep.studio.running import carry_out
from keen_sweep.studio.running.queue import Queue
from keen_sweep.studio.workers import in_own_process
from tests.support.runs import carried_out
from tests.support.service import Service, running

# Long and narrow: it is painted section by section.
BAR = Stroke(points=((15.0, 75.0), (185.0, 75.0)), size=14)
LARGEST_PX = 64
TAKES = 2
# Where a process dies: a function, and whether before or after it.
POINTS: dict[str, tuple[Any, str, str]] = {
    "before asking": (ServiceModel, "_asked_for", "before"),
    "asked": (ServiceModel, "_asked_for", "after"),
    "charged, nothing written": (ServiceModel, "_done", "after"),
    "before booking": (carry_out, "book", "before"),
    "booked": (carry_out, "book", "after"),
    "before fetching": (Exchange, "fetch", "before"),
    "fetched": (Exchange, "fetch", "after"),
    "section laid": (engine, "_lay", "after"),
    "patch written, no take": (Files, "add", "after"),
    "take kept": (carry_out, "keep_take", "after"),
}
# All forty are in the slow lane, three among the quick tests.
QUICK = {("charged, nothing written", 3), ("booked", 3), ("take kept", 1)}
KILLS = [
    pytest.param(point, passes, marks=[] if (point, passes) in QUICK else [pytest.mark.slow], id=f"{point} {passes}")
    for point in POINTS
    for passes in (1, 2, 3, 4)
]


def work_and_die(folder: str, run_id: int, point: str, passes: int) -> None:
    """Carry a run out, and end the process where a point is passed for so many a time."""
    where, name, when = POINTS[point]
    whole: Callable[..., Any] = getattr(where, name)
    count = 0

    def deadly(*args: Any, **given: Any) -> Any:
        nonlocal count
        count += 1
        if count == passes and when == "before":
            os._exit(9)
        out = whole(*args, **given)
        if count == passes:
            os._exit(9)
        return out

    setattr(where, name, deadly)
    carry_out.carry_out(Library(Path(folder), ready=True), run_id)


@pytest.fixture
def service(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Service]:
    monkeypatch.setenv("KEEN_SWEEP_KEYS", str(tmp_path / "keys.json"))
    with running(tmp_path / "service") as made:
        made.switch(refuse_skin=False)
        yield made


def paid_run(library: Library, frame: Frame, service: Service, credits: float) -> Run:
    row = register(library, "Paint Shed", ModelKind.SERVICE, service.address)
    change_model(library, row.id, ModelChange(largest=LARGEST_PX))
    set_key(library, row.id, SecretStr(DEMO_KEY))
    sweep, _ = new_sweep(library, frame.id, [BAR])
    choose_model(library, frame.id, sweep, row.id)
    return ask_fill(library, frame.id, sweep, Fill(takes=TAKES, credits=credits))


def broken_off(library: Library, run: Run, point: str, passes: int) -> None:
    """A run whose worker died at a point, put back into the queue as a server that starts does it."""
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.state = RunState.RUNNING
        session.add(row)
    try:
        in_own_process(120, work_and_die, str(library.folder), run.id, point, passes)
    except BrokenExecutor:
        with library.session() as session:
            row = session.get_one(Run, run.id)
            Queue._again(row)
            session.add(row)
    else:
        # So few takes pass it less often.
        assert point in ("patch written, no take", "take kept")


@pytest.mark.parametrize(("point", "passes"), KILLS)
def test_a_kill_books_every_credit_once_and_loses_no_take(
    library: Library, frame: Frame, service: Service, point: str, passes: int
) -> None:
    price = 6.0
    run = paid_run(library, frame, service, price)
    broken_off(library, run, point, passes)
    with library.session() as session:
        left = session.get_one(Run, run.id)
    if left.state is not RunState.DONE:
        assert left.state is RunState.WAITING
        done = carried_out(library, left)
        assert (done.state, done.error) == (RunState.DONE, None)
    with library.session() as session:
        payments = session.exec(select(Payment)).all()
    assert service.books()["paid"] == price, "three sections of two takes"
    assert sum(each.credits for each in payments) == price == spent_in(library, [frame.shoot_id])[frame.shoot_id]
    assert len({each.receipt for each in payments}) == len(payments) == 6
    takes = desk.desk(library, frame.id).sweeps[0].takes
    assert [take.seed for take in takes] == list(range(TAKES))
    assert all(take.provenance.credits == price / TAKES for take in takes)
    assert not check(library).lost


def test_what_is_due_after_a_kill_is_told_as_it_is(library: Library, frame: Frame, service: Service) -> None:
    """Three of six were accepted, a price went up: what is said was spent is what was spent."""
    run = paid_run(library, frame, service, 6)
    broken_off(library, run, "booked", 3)
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.request = {**row.request, "credits": 4.0}
        session.add(row)
    done = carried_out(library, row)
    assert done.state is RunState.FAILED
    assert done.error == "This fill costs 3 credits more and 1 were accepted. 3 credits spent so far."
    assert service.books()["paid"] == 3 == spent_in(library, [frame.shoot_id])[frame.shoot_id]


def test_a_charge_is_booked_though_its_picture_never_comes(
    library: Library, frame: Frame, service: Service, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = paid_run(library, frame, service, 6)

    def lost(*_: object) -> None:
        raise ModelTrouble("The picture never comes.", "later")

    monkeypatch.setattr(Exchange, "fetch", lost)
    assert carried_out(library, run).state is RunState.FAILED
    assert service.books()["paid"] == 1 == spent_in(library, [frame.shoot_id])[frame.shoot_id]
