"""The second look as a use case: after a fill, dismissed for good, mended by one call."""

import numpy as np
import pytest
from sqlmodel import col, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.review.judge import review_and_rank
from keen_sweep.core.review.review import GoOn
from keen_sweep.core.review.snag import Laid, SnagKind
from keen_sweep.core.review.snag import Snag as Found
from keen_sweep.core.review.taste import Terms
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Snag
from keen_sweep.studio import desk
from keen_sweep.studio.choosing.mend import mend, mend_all
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.choosing.review import dismiss, look_again, review_sweep, review_take
from keen_sweep.studio.filling.ask import cancel
from keen_sweep.studio.filling.takes import keep_take
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.originals import Originals
from tests.support.runs import fill_now
from tests.support.stacks import shown


def smeared(library: Library, originals: Originals, frame: Frame, sweep_id: str) -> int:
    """A take that is one flat colour, lighter than what is round it: soft, and off in tone."""
    box = Box(x=60, y=40, width=60, height=60)
    ground = np.asarray(originals.pyramid(frame.original).level(0))[box.slices]
    pixels = np.full(ground.shape, ground.reshape(-1, 3).mean(axis=0) + 9_000, np.float64)
    alpha = np.full((60, 60), 255, np.uint8)
    patch = Patch(box, pixels.clip(0, 65535).astype(np.uint16), alpha, MadeBy.WEAVE, 5, energy=-9.0)
    return keep_take(library, frame.id or 0, sweep_id, 7, patch)


@pytest.fixture
def sweep(library: Library, frame: Frame) -> str:
    return new_sweep(library, frame.id or 0, [Stroke(points=((90.0, 70.0),), size=40)])[0]


def snags(library: Library, frame: Frame) -> list[Snag]:
    return desk.desk(library, frame.id or 0).sweeps[0].snags


def test_takes_are_reviewed_after_a_fill_and_the_smear_is_not_offered_first(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    fill_now(library, frame, sweep, takes=1)
    bad = smeared(library, originals, frame, sweep)
    on_desk = desk.desk(library, frame.id or 0).sweeps[0]
    assert on_desk.best == bad, "its engine said that it is the best"
    with library.session() as session:
        waiting = Run(frame_id=frame.id or 0, sweep_id=sweep)
        session.add(waiting)
    with library.session() as session:
        runs = session.exec(select(Run).order_by(col(Run.id))).all()
    first, last = runs[0].id or 0, runs[-1].id or 0
    look_again(library, first)
    assert all(take.review is None for take in desk.desk(library, frame.id or 0).sweeps[0].takes), "a fill comes first"
    cancel(library, last)
    look_again(library, first)
    on_desk = desk.desk(library, frame.id or 0).sweeps[0]
    assert all(take.review is not None for take in on_desk.takes)
    assert on_desk.best != bad
    assert {"softness", "step in tone"} <= {snag.kind for snag in on_desk.snags if snag.take_id == bad}


def test_a_fill_that_is_asked_for_meanwhile_waits_for_one_check_at_most(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    fill_now(library, frame, sweep, takes=1)
    checks = 0

    def interrupted(laid: Laid, go_on: GoOn) -> tuple[list[Found], Terms]:
        def and_count() -> None:
            nonlocal checks
            checks += 1
            if checks == 2:
                with library.session() as session:
                    session.add(Run(frame_id=frame.id or 0, sweep_id=sweep))
            go_on()

        return review_and_rank(laid, and_count)

    with library.session() as session:
        run = session.exec(select(Run)).one().id
    look_again(library, run, interrupted)
    assert checks == 2
    assert all(take.review is None for take in desk.desk(library, frame.id or 0).sweeps[0].takes)


def plant(library: Library, take: int, *kinds: SnagKind) -> None:
    """More snags, each of a kind, where the first one of a reviewed take is."""
    with library.session() as session:
        first = session.exec(select(Snag).where(Snag.take_id == take)).first()
        assert first is not None
        common = first.model_dump(exclude={"id", "kind", "mend"})
        for kind in kinds:
            session.add(Snag(kind=kind, mend=kind.mend, **common))


def test_what_was_dismissed_stays_so(library: Library, originals: Originals, frame: Frame, sweep: str) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    soft = next(snag for snag in snags(library, frame) if snag.kind == "softness")
    dismiss(library, frame.id or 0, soft.id or 0)
    review_sweep(library, frame.id or 0, sweep, again=True)
    found = {snag.kind: snag.dismissed for snag in snags(library, frame)}
    assert found[SnagKind.SOFTNESS]
    assert not found[SnagKind.STEP_IN_TONE]
    with pytest.raises(NotFound, match="reviewed again"):
        dismiss(library, frame.id or 0, 9_999)


def test_grain_and_tone_are_mended_in_takes_of_their_own(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    bad = smeared(library, originals, frame, sweep)
    pick(library, frame.id or 0, sweep, bad)
    before = shown(library, frame)[0]
    review_take(library, bad)
    for kind in ("step in tone", "softness"):
        snag = next(s for s in snags(library, frame) if s.kind == kind and s.take_id == bad)
        done = mend(library, frame.id or 0, snag.id or 0)
        assert done.does == "take"
        on_desk = desk.desk(library, frame.id or 0).sweeps[0]
        assert on_desk.pick == done.take
        assert on_desk.takes[-1].method == "mend"
        after = shown(library, frame)[0]
        assert not np.array_equal(after, before)
        assert np.array_equal(after[:, :60], before[:, :60])
        assert kind not in {s.kind for s in on_desk.snags if s.take_id == done.take}


def test_a_spot_becomes_a_sweep_on_top_and_a_leftover_joins_the_mark(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    plant(library, bad, SnagKind.BROKEN_LINE, SnagKind.LEFTOVER)
    spot, grow = (next(s for s in snags(library, frame) if s.mend == what) for what in ("spot", "grow"))
    done = mend(library, frame.id or 0, spot.id or 0)
    first, second = desk.desk(library, frame.id or 0).sweeps
    assert (second.sweep.id, second.sweep.name, second.state) == (done.sweep_id, "Broken line, mended", "waiting")
    mend(library, frame.id or 0, grow.id or 0)
    first = desk.desk(library, frame.id or 0).sweeps[0]
    assert len(first.sweep.mark.shapes) == 2
    assert first.state == "waiting"


def only_what_can_be_mended_in_place(library: Library, frame: Frame) -> None:
    """Wave through what was left out: all that is wrong with a take would be taken in, and nothing else mended."""
    for snag in snags(library, frame):
        if snag.mend == "grow":
            dismiss(library, frame.id or 0, snag.id or 0)


def test_all_that_is_wrong_with_a_take_is_mended_in_one_take(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    only_what_can_be_mended_in_place(library, frame)
    before = {snag.kind for snag in snags(library, frame) if snag.take_id == bad and not snag.dismissed}
    assert {"softness", "step in tone"} <= before
    many = len(desk.desk(library, frame.id or 0).sweeps[0].takes)
    done = mend_all(library, frame.id or 0, bad)
    first, *on_top = desk.desk(library, frame.id or 0).sweeps
    mended = first.takes[-1]
    assert (len(first.takes), first.pick, mended.method) == (many + 1, mended.id, "mend")
    assert mended.parts[0]["why"] == "its tone matched, its grain regrown"
    left = [snag for snag in first.snags if snag.take_id == mended.id]
    assert not {"softness", "step in tone"} & {snag.kind for snag in left if snag.grading is None}
    # What grain and tone cannot mend is filled on top, all in one sweep.
    spots = before - {"softness", "step in tone"}
    assert [each.sweep.name for each in on_top] == (["Mended"] if spots else [])
    assert done.sweep_id == (on_top[0].sweep.id if spots else sweep)


def test_where_a_place_cannot_be_filled_nothing_of_a_take_is_mended(
    library: Library, originals: Originals, frame: Frame, sweep: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    only_what_can_be_mended_in_place(library, frame)
    plant(library, bad, SnagKind.REPEAT)
    before = desk.desk(library, frame.id or 0)

    def refused(*_: object) -> None:
        raise BadRequest("Nothing can be filled now.")

    monkeypatch.setattr("keen_sweep.studio.choosing.mend.ask_fill", refused)
    with pytest.raises(BadRequest, match="Nothing can be filled"):
        mend_all(library, frame.id or 0, bad)
    after = desk.desk(library, frame.id or 0)
    assert after.revision == before.revision
    assert [(len(each.takes), each.pick) for each in after.sweeps] == [
        (len(each.takes), each.pick) for each in before.sweeps
    ]


def test_what_was_left_out_is_taken_in_before_anything_else_is_mended(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    plant(library, bad, SnagKind.LEFTOVER, SnagKind.ORPHAN)
    left_out = sum(snag.mend == "grow" for snag in snags(library, frame))
    done = mend_all(library, frame.id or 0, bad)
    [only] = desk.desk(library, frame.id or 0).sweeps
    assert (done.does, done.sweep_id, only.state) == ("filling", sweep, "waiting")
    assert len(only.sweep.mark.shapes) == 1 + left_out >= 3


def test_where_nothing_is_wrong_or_all_was_waved_through_there_is_nothing_to_mend(
    library: Library, originals: Originals, frame: Frame, sweep: str
) -> None:
    bad = smeared(library, originals, frame, sweep)
    review_take(library, bad)
    for snag in snags(library, frame):
        dismiss(library, frame.id or 0, snag.id or 0)
    with pytest.raises(NotFound, match="nothing to mend"):
        mend_all(library, frame.id or 0, bad)
