"""What is picked is remembered in the library, learned from, followed or not, forgotten."""

from dataclasses import asdict

import numpy as np
import pytest
from sqlmodel import col, select

from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.review.review import GoOn
from keen_sweep.core.review.snag import Laid, Snag
from keen_sweep.core.review.taste import DEFAULT_TERMS, Terms
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Picked, Take
from keen_sweep.studio import desk
from keen_sweep.studio.choosing.pick import pick, pick_by_hand
from keen_sweep.studio.choosing.review import review_take
from keen_sweep.studio.filling.takes import keep_take
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.ranking.taste import follow, forget, learned, saved

# One looks better as we see it but is soft; the other is odd in places.
SMOOTH, ODD = Terms(2.0, 2.0, 1.0, 0.0, 0.5), Terms(3.0, 2.0, 1.0, 0.0, 0.0)


def take_with(library: Library, frame: Frame, sweep: str, terms: Terms, made: MadeBy = MadeBy.WEAVE) -> int:
    """A take that the second look has seen so."""
    alpha = np.full((20, 20), 255, np.uint8)
    shade = int(1000 * terms.fine + 100 * terms.softness)
    pixels = np.full((20, 20, 3), shade, np.uint16)
    number = keep_take(library, frame.id, sweep, 1, Patch(Box(x=80, y=60, width=20, height=20), pixels, alpha, made, 1))
    with library.session() as session:
        take = session.get_one(Take, number)
        take.review, take.terms = terms.under(DEFAULT_TERMS), asdict(terms)
        session.add(take)
    return number


def offered(library: Library, frame: Frame) -> tuple[str, int, int]:
    """A new sweep with both takes."""
    sweep = new_sweep(library, frame.id, [Stroke(points=((90.0, 70.0),), size=16)])[0]
    return sweep, take_with(library, frame, sweep, SMOOTH), take_with(library, frame, sweep, ODD)


def picks(library: Library) -> list[Picked]:
    with library.session() as session:
        return list(session.exec(select(Picked).order_by(col(Picked.id))).all())


def best_of(library: Library, frame: Frame, sweep: str) -> int | None:
    return next(each.best for each in desk.desk(library, frame.id).sweeps if each.sweep.id == sweep)


@pytest.fixture
def minded(library: Library, frame: Frame) -> None:
    """A library of somebody who picks what is smooth, fifteen times."""
    for _ in range(15):
        sweep, smooth, _ = offered(library, frame)
        pick_by_hand(library, frame.id, sweep, smooth)


@pytest.mark.usefixtures("minded")
def test_takes_stand_in_the_order_of_picks_until_that_is_not_wanted(library: Library, frame: Frame) -> None:
    sweep, smooth, odd = offered(library, frame)
    assert SMOOTH.under(DEFAULT_TERMS) > ODD.under(DEFAULT_TERMS)
    assert best_of(library, frame, sweep) == smooth
    assert desk.desk(library, frame.id).picks == 15
    follow(library, False)
    assert best_of(library, frame, sweep) == odd
    assert desk.desk(library, frame.id).picks == 0
    follow(library, True)
    forget(library)
    assert best_of(library, frame, sweep) == odd
    with library.session() as session:
        told = learned(session)
    assert (told.picks, told.weights, told.followed) == (0, None, True)


def test_another_pick_of_a_sweep_takes_the_place_of_the_one_before(library: Library, frame: Frame) -> None:
    sweep, smooth, odd = offered(library, frame)
    pick_by_hand(library, frame.id, sweep, smooth)
    pick_by_hand(library, frame.id, sweep, odd)
    (known,) = picks(library)
    assert (known.picked, known.others) == (asdict(ODD), [asdict(SMOOTH)])
    pick_by_hand(library, frame.id, sweep, None)
    assert picks(library) == []


def test_what_says_nothing_of_fills_is_not_remembered(library: Library, frame: Frame) -> None:
    sweep, smooth, _ = offered(library, frame)
    pick(library, frame.id, sweep, smooth)
    assert picks(library) == [], "that was not the photographer"
    true = take_with(library, frame, sweep, Terms(1.0, 1.0, 1.0, 0.0, 0.0), MadeBy.BORROW)
    pick_by_hand(library, frame.id, sweep, true)
    assert picks(library) == [], "true pixels are picked for what they are"
    alone = new_sweep(library, frame.id, [Stroke(points=((90.0, 70.0),), size=16)])[0]
    pick_by_hand(library, frame.id, alone, take_with(library, frame, alone, ODD))
    assert picks(library) == [], "there was no choice"


def test_a_pick_before_the_second_look_counts_as_soon_as_that_is_done(library: Library, frame: Frame) -> None:
    sweep, _, odd = offered(library, frame)
    with library.session() as session:
        take = session.get_one(Take, odd)
        take.review = take.terms = None
        session.add(take)
    pick_by_hand(library, frame.id, sweep, odd)
    assert picks(library) == []

    def judge(_: Laid, __: GoOn) -> tuple[list[Snag], Terms]:
        return [], ODD

    review_take(library, odd, judge)
    (known,) = picks(library)
    assert (known.picked, known.others) == (asdict(ODD), [asdict(SMOOTH)])


@pytest.mark.usefixtures("minded")
def test_what_is_known_can_be_saved_and_says_nothing_of_pictures(library: Library, frame: Frame) -> None:
    told = saved(library)
    assert told["ours"] == asdict(DEFAULT_TERMS)
    assert isinstance(told["yours"], dict)
    assert isinstance(told["picks"], list)
    assert len(told["picks"]) == 15
    assert set(told["picks"][0]) == {"at", "picked", "others"}
    assert frame.name not in str(told)
