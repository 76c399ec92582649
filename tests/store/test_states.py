"""States in the database are the words they always were."""

import pytest
from sqlalchemy.exc import StatementError
from sqlmodel import select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Shoot
from keen_sweep.store.words import BUSY_STATES, OPEN_STATES, RunState


@pytest.fixture
def run_id(library: Library) -> int:
    with library.session() as session:
        shoot = Shoot(name="Roofs")
        session.add(shoot)
        session.flush()
        frame = Frame(
            shoot_id=shoot.id,
            name="roof.png",
            width=10,
            height=10,
            original="0" * 64,
            format="png",
            depth=8,
        )
        session.add(frame)
        session.flush()
        run = Run(frame_id=frame.id, sweep_id="a", request={})
        session.add(run)
        session.flush()
        return run.id or 0


def test_a_state_is_a_word_outside_and_knows_its_questions_inside(library: Library, run_id: int) -> None:
    for state in RunState:
        with library.session() as session:
            run = session.get(Run, run_id)
            assert run is not None
            run.state = state
            session.add(run)
        with library.session() as session:
            assert session.connection().exec_driver_sql("SELECT state FROM run").scalar_one() == state.value
            assert session.exec(select(Run.state).where(Run.state == state)).one() is state
    assert {state for state in RunState if state.is_open} == set(OPEN_STATES)
    assert set(BUSY_STATES) < set(OPEN_STATES)


def test_a_word_that_is_no_state_is_refused(library: Library, run_id: int) -> None:
    def put_to_sleep() -> None:
        with library.session() as session:
            run = session.get(Run, run_id)
            assert run is not None
            run.state = "asleep"  # type: ignore[assignment]
            session.add(run)

    with pytest.raises((StatementError, ValueError)):
        put_to_sleep()


def test_sessions_together_are_one_transaction(library: Library, run_id: int) -> None:
    def set_state(state: RunState) -> None:
        with library.session(write=True) as session:
            run = session.get(Run, run_id)
            assert run is not None
            run.state = state
            session.add(run)

    def state() -> RunState:
        with library.session() as session:
            return RunState(session.exec(select(Run.state)).one())

    def half_a_use_case() -> None:
        with library.together():
            set_state(RunState.RUNNING)
            assert state() is RunState.RUNNING, "seen within"
            raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        half_a_use_case()
    assert state() is RunState.WAITING
    with library.together(), library.together():
        set_state(RunState.RUNNING)
        set_state(RunState.DONE)
    assert state() is RunState.DONE


def test_a_worker_takes_a_library_as_it_finds_it(library: Library, run_id: int) -> None:
    with library.session() as session:
        before = session.connection().exec_driver_sql("SELECT version_num FROM alembic_version").scalar_one()
        session.connection().exec_driver_sql("UPDATE alembic_version SET version_num = 'another'")
    worker = Library(library.folder, ready=True)
    with worker.session() as session:
        assert session.get(Run, run_id) is not None
        # Upgrading from a version that nobody knows would have failed.
        assert session.connection().exec_driver_sql("SELECT version_num FROM alembic_version").scalar_one() == "another"
    worker.close()
    with library.session() as session:
        session.connection().exec_driver_sql(f"UPDATE alembic_version SET version_num = '{before}'")
