"""Lead lines of a sweep: kept, refused, moved with the mask, undone, heeded by its fill and told in the ledger."""

import pytest

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.lead import MAX_LEAD_LINES, LeadLine
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import history
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.ledger import ledgers_of
from keen_sweep.studio.filling.first_look import look_first
from keen_sweep.studio.filling.lead import set_lead
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.marking.draw import move_sweep, new_sweep
from keen_sweep.studio.open_frame import open_frame
from tests.support.runs import fill_now

DOT = Stroke(points=((100.0, 80.0), (120.0, 84.0)), size=24)
ARROW = LeadLine(points=((60.0, 40.0), (90.0, 60.0), (110.0, 82.0)), brings="ground")
THROUGH = LeadLine(points=((70.0, 78.0), (150.0, 90.0)))


def lead_of(library: Library, frame_id: int, sweep_id: str) -> tuple[LeadLine, ...]:
    return open_frame(library, frame_id).stack.sweep(sweep_id).lead


def test_lines_are_kept_moved_and_undone(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep, _ = new_sweep(library, frame_id, [DOT])
    set_lead(library, frame_id, sweep, [THROUGH])
    assert lead_of(library, frame_id, sweep) == (THROUGH,)
    move_sweep(library, frame_id, sweep, 10, -5)
    assert lead_of(library, frame_id, sweep) == (THROUGH.moved(10, -5),)
    history.undo(library, frame_id)
    assert lead_of(library, frame_id, sweep) == (THROUGH,)
    # An arrow keeps its beginning: the ground does not move with the mask.
    set_lead(library, frame_id, sweep, [ARROW])
    move_sweep(library, frame_id, sweep, 10, -5)
    assert lead_of(library, frame_id, sweep)[0].points == (ARROW.points[0], (120.0, 77.0))
    history.undo(library, frame_id)
    history.undo(library, frame_id)
    set_lead(library, frame_id, sweep, [])
    assert lead_of(library, frame_id, sweep) == ()
    history.undo(library, frame_id)
    assert lead_of(library, frame_id, sweep) == (THROUGH,)


def test_an_axis_stays_where_it_is_and_keeps_only_its_ends(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep, _ = new_sweep(library, frame_id, [DOT])
    axis = LeadLine(points=((60.0, 20.0), (61.0, 60.0), (60.0, 120.0)), brings="mirror")
    set_lead(library, frame_id, sweep, [axis])
    kept = LeadLine(points=((60.0, 20.0), (60.0, 120.0)), brings="mirror")
    assert lead_of(library, frame_id, sweep) == (kept,)
    move_sweep(library, frame_id, sweep, 10, -5)
    assert lead_of(library, frame_id, sweep) == (kept,)
    assert fill_now(library, frame, sweep, takes=1).state == "done"


@pytest.mark.parametrize(
    ("lines", "words"),
    [
        ([LeadLine(points=((100.0, 80.0), (40.0, 8.0)), brings="ground")], "Begin the arrow outside"),
        ([LeadLine(points=((5.0, 5.0), (40.0, 8.0)))], "does not cross the mask"),
        ([LeadLine(points=((100.0, 80.0), (118.0, 84.0)))], "outside the mask"),
        ([LeadLine(points=((100.0, 80.0), (101.0, 80.0)))], "too short"),
        ([LeadLine(points=((80.0, 76.0), (140.0, 88.0)), brings="mirror")], "meets only itself"),
        ([LeadLine(points=((100.0, 80.0), (118.0, 84.0)), brings="repeat")], "Draw the row longer"),
        ([LeadLine(points=((-1e308, 80.0), (1e308, 84.0)) * 3)], "too long"),
        ([THROUGH] * (MAX_LEAD_LINES + 1), "at most"),
    ],
)
def test_lines_that_lead_nothing_are_refused(library: Library, frame: Frame, lines: list[LeadLine], words: str) -> None:
    frame_id = frame.id or 0
    sweep, _ = new_sweep(library, frame_id, [DOT])
    with pytest.raises(BadRequest, match=words):
        set_lead(library, frame_id, sweep, lines)
    assert lead_of(library, frame_id, sweep) == ()


def test_a_fill_follows_them_and_the_ledger_says_so(library: Library, frame: Frame) -> None:
    frame_id = frame.id or 0
    sweep, _ = new_sweep(library, frame_id, [DOT])
    set_lead(library, frame_id, sweep, [THROUGH])
    assert look_first(library, frame_id, sweep) is not None
    fill_now(library, frame, sweep, takes=1)
    (take,) = takes_of(library, sweep)
    pick(library, frame_id, sweep, take.id)
    assert ledgers_of(library, [frame_id])[0].entries[0].led == 1
