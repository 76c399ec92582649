"""Moments come back from the database as the moments they were, whatever clock they were told by."""

from datetime import UTC, datetime, timedelta, timezone

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Shoot

ZONES = st.integers(-12 * 60, 14 * 60).map(lambda minutes: timezone(timedelta(minutes=minutes)))


@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(at=st.datetimes(datetime(2000, 1, 2), datetime(2100, 1, 1), timezones=ZONES))
def test_a_moment_stays_what_it_was(library: Library, at: datetime) -> None:
    with library.session() as session:
        shoot = Shoot(name="told elsewhere", made_at=at, gone_at=None)
        session.add(shoot)
        session.flush()
        number = shoot.id
    with library.session() as session:
        known = session.get_one(Shoot, number)
        assert (known.made_at, known.gone_at) == (at, None)
        assert known.made_at.tzinfo is UTC
