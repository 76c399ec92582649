"""Strokes, fits, undo, redo and restarts in any order: the mask is always that of the marks that stand."""

from pathlib import Path

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_sweep.core.box import Box
from keen_sweep.core.errors import Conflict
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import Shape, mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.mark import Mark, filed, shapes_of
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk, history
from keen_sweep.studio.marking.draw import add_shapes, clear_mark, new_sweep, refit
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.originals import originals_of

places = st.tuples(st.integers(0, 200).map(float), st.integers(0, 150).map(float))
shapes = st.one_of(
    st.builds(
        Stroke,
        points=st.lists(places, min_size=1, max_size=3).map(tuple),
        size=st.integers(2, 40).map(float),
        erase=st.booleans(),
    ),
    st.builds(Outline, points=st.lists(places, min_size=3, max_size=5).map(tuple), erase=st.booleans()),
)
steps = st.one_of(
    shapes,
    st.builds(Fit, margin=st.integers(-3, 9).map(float)),
    st.sampled_from(["undo", "redo", "restart", "clear"]),
)
FIRST = Stroke(points=((100.0, 75.0),), size=30)


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(steps, max_size=14))
def test_any_order_gives_the_mask_of_the_marks_that_stand(
    library: Library, frame: Frame, todo: list[Shape | Fit | str]
) -> None:
    sweep, _ = new_sweep(library, frame.id, [FIRST])
    open_library = library
    past: list[Mark] = [Mark(shapes=filed([FIRST], library.files.add))]
    at = 0
    for step in todo:
        now = past[at]
        if step == "restart":
            open_library = Library(Path(library.folder))
            continue
        if step == "undo":
            if at > 0:
                history.undo(open_library, frame.id)
                at -= 1
            continue
        if step == "redo":
            try:
                history.redo(open_library, frame.id)
            except Conflict:
                assert at == len(past) - 1
            else:
                at += 1
            continue
        if step == "clear":
            clear_mark(open_library, frame.id, sweep)
            new = now.model_copy(update={"shapes": ()})
        elif isinstance(step, Fit):
            refit(open_library, frame.id, sweep, step)
            new = now.model_copy(update={"fit": step})
        else:
            assert not isinstance(step, str)
            add_shapes(open_library, frame.id, sweep, [step])
            new = now.model_copy(update={"shapes": (*now.shapes, *filed([step], library.files.add))})
        if new != now:
            # A new step cuts off what could have been redone.
            past = [*past[: at + 1], new]
            at += 1
    drawn = shapes_of(past[at].shapes, originals_of(library))
    picture = Box(x=0, y=0, width=frame.width, height=frame.height)
    expected = mask_of(drawn, picture, past[at].fit).full(frame.width, frame.height)
    got = open_frame(open_library, frame.id).mask(sweep).full(frame.width, frame.height)
    assert np.array_equal(got, expected)
    assert len(desk.desk(open_library, frame.id).sweeps) >= 1
    mark_state = desk.desk(open_library, frame.id).sweeps[-1].sweep.mark
    assert mark_state == past[at]
