"""A job as a file: read, foreseen, run, and run again."""

from __future__ import annotations

import re
from pathlib import Path

import imagecodecs
import pytest
from sqlmodel import select

from keen_sweep.core.errors import BadRequest, Conflict, KeenSweepError
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.progress import no_progress
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Scouting, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.choosing.arrange import delete_sweep
from keen_sweep.studio.delivering.wanted import Kind
from keen_sweep.studio.history import steps
from keen_sweep.studio.job.foresee import foreseen
from keen_sweep.studio.job.page import page_of
from keen_sweep.studio.job.plan import Job, job_from
from keen_sweep.studio.job.ready import Candidate, candidates
from keen_sweep.studio.job.run import Done, run_job
from keen_sweep.studio.open_frame import open_frame
from tests.support.jobs import JOB, picture
from tests.support.shell import keen_sweep

DOCUMENT = Path(__file__).parents[2] / "docs" / "jobs.md"
# Where the specks of each picture are, their middles.
SPECKS = {"one.png": ((40, 30), (120, 80)), "two.png": (), "three.png": ((90, 60),)}


@pytest.fixture
def job(tmp_path: Path) -> Job:
    (tmp_path / "pictures").mkdir()
    for seed, (name, specks) in enumerate(SPECKS.items()):
        (tmp_path / "pictures" / name).write_bytes(picture(seed, specks))
    (tmp_path / "job.toml").write_text(JOB)
    return job_from(tmp_path / "job.toml")


def test_places_are_told_from_where_the_file_lies(job: Job, tmp_path: Path) -> None:
    assert job.gather.folder == tmp_path / "pictures"
    assert job.deliver is not None
    assert (job.deliver.folder, job.deliver.wanted.kind, job.report) == (tmp_path / "out", Kind.SAME, None)


@pytest.mark.parametrize(
    ("added", "words"),
    [
        ("[fill]\ntakes = 2", "not valid TOML"),
        ("[report]\nfiles = 'a'", "report.files: Extra inputs are not permitted"),
        ("[keep]\nsure = 7", "keep.sure"),
        ("[keep]\nkinds = ['ghosts']", "keep.kinds.0"),
    ],
)
def test_a_job_that_makes_no_sense_says_where(job: Job, tmp_path: Path, added: str, words: str) -> None:
    file = tmp_path / "job.toml"
    file.write_text(f"{JOB}\n{added}\n")
    with pytest.raises(BadRequest, match=words):
        job_from(file)
    with pytest.raises(BadRequest, match="cannot be read"):
        job_from(tmp_path / "none.toml")


def test_the_job_of_the_documents_makes_sense(tmp_path: Path) -> None:
    (told,) = re.findall(r"```toml\n(.*?)```", DOCUMENT.read_text(), re.DOTALL)
    (tmp_path / "job.toml").write_text(told)
    job = job_from(tmp_path / "job.toml")
    assert job.shoot == "Night market"
    assert job.keep.kinds is not None
    # What is told to be usual is.
    usual = Job.model_validate({"shoot": "a", "gather": {"folder": "b"}})
    assert (job.fill, job.review, job.scouts) == (usual.fill, usual.review, usual.scouts)


def test_a_job_is_foreseen_without_a_library(job: Job) -> None:
    said = "\n".join(foreseen(None, job))
    assert "gather 3 of 3 files into Night" in said
    assert "specks" in said


def test_a_job_from_end_to_end_and_again(library: Library, job: Job, tmp_path: Path) -> None:
    (tmp_path / "pictures" / "notes.txt").write_text("nothing to see")
    done = run_job(library, job, no_progress)
    assert [frame.name for frame in done.frames] == ["one.png", "three.png", "two.png"]
    assert [each.file.name for each in done.refused] == ["notes.txt"]
    assert not done.trouble
    assert not done.undecided
    assert {name for names in done.written.values() for name in names} == {
        f"{Path(name).stem}-swept.png" for name in SPECKS
    }
    out = tmp_path / "out"
    assert (out / "two-swept.png").read_bytes() == (tmp_path / "pictures" / "two.png").read_bytes(), "nothing was found"
    for name, specks in SPECKS.items():
        before, after = (
            imagecodecs.png_decode(file.read_bytes()).astype(int)
            for file in (tmp_path / "pictures" / name, out / f"{Path(name).stem}-swept.png")
        )
        for x, y in specks:
            assert before[y, x].mean() < 90
            assert after[y, x].mean() > 110
    _again(library, job, done, out)
    page = page_of(library, job, done, now())
    assert page.count("<article>") == 3
    assert "notes.txt" in page
    assert page.index("one.png") < page.index("two.png")


def _again(library: Library, job: Job, done: Done, out: Path) -> None:
    """What is done is not done again; what is missing is."""
    before = {frame.id: len(steps(library, frame.id)) for frame in done.frames}
    written = {file: file.stat().st_mtime_ns for file in out.iterdir()}
    gone = out / "one-swept.png"
    gone.unlink()
    again = run_job(library, job, no_progress)
    assert {frame.id: len(steps(library, frame.id)) for frame in again.frames} == before
    assert {file for file in out.iterdir() if file.stat().st_mtime_ns != written[file]} == {gone}
    said = "\n".join(foreseen(library, job))
    assert "gather 1 of 4 files" in said, "the one that is no picture"
    assert "0 pictures wait for a pick" in said


def test_nothing_is_written_over_that_no_job_wrote(library: Library, job: Job, tmp_path: Path) -> None:
    (tmp_path / "out").mkdir()
    theirs = tmp_path / "out" / "two-swept.png"
    theirs.write_bytes(b"somebody's")
    idle = job.model_copy(update={"keep": job.keep.model_copy(update={"most": 0})})
    with pytest.raises(Conflict, match=r"two-swept.png is already in"):
        run_job(library, idle, no_progress)
    assert theirs.read_bytes() == b"somebody's"


def test_a_find_is_kept_once_and_a_take_that_nobody_could_judge_is_not_clean(library: Library, job: Job) -> None:
    done = run_job(library, job, no_progress)
    one = done.frames[0]
    (sweep,) = open_frame(library, one.id).stack.sweeps
    delete_sweep(library, one.id, sweep.id)
    run_job(library, job, no_progress)
    assert open_frame(library, one.id).stack.sweeps == (), "somebody did not want it"
    judged = next(iter(candidates(library, done.frames[1]).values()))[0]
    unjudged = Take(**{**judged.take.model_dump(), "review": None})
    assert judged.judged
    assert not Candidate(unjudged, True, 0.0).judged
    by_backdrop = Take(**{**judged.take.model_dump(), "review": None, "method": MadeBy.BACKDROP})
    assert Candidate(by_backdrop, True, 0.0).judged, "nothing was made up"


def test_what_nobody_decided_waits_for_somebody(library: Library, job: Job, tmp_path: Path) -> None:
    done = run_job(
        library, job.model_copy(update={"review": job.review.model_copy(update={"pick": "none"})}), no_progress
    )
    names = {frame.id: frame.name for frame in done.frames}
    assert [names[each] for each in done.undecided] == ["one.png", "three.png"]
    assert [file.name for file in (tmp_path / "out").iterdir()] == ["two-swept.png"]
    assert not done.all_well


def test_without_networks_a_job_stops_before_it_begins_or_leaves_the_pictures_to_look_at(
    job: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As on a machine without a network, from a fresh installation."""

    def nowhere(_: object) -> None:
        raise KeenSweepError("The registry cannot be reached.")

    monkeypatch.setattr("keen_sweep.install.weights.fetch_weights", nowhere)
    env = {"KEEN_SWEEP_WEIGHTS": str(tmp_path / "no weights")}
    file, library = tmp_path / "people.toml", tmp_path / "jobs library"
    file.write_text(JOB.replace('["specks"]', '["people"]'))
    done = keen_sweep("run", file, "--library", library, env=env)
    assert done.returncode == 2
    assert "The registry cannot be reached." in done.stderr
    assert "--allow-missing" in done.stderr
    assert not library.exists()
    done = keen_sweep("run", file, "--library", library, "--allow-missing", env=env)
    assert done.returncode == 1
    assert "3 pictures, 0 delivered, 3 to look at" in done.stderr
    assert not list((tmp_path / "out").glob("*.png"))


def test_a_scout_that_failed_looks_again_when_the_job_is_run_again(library: Library, job: Job) -> None:
    done = run_job(library, job, no_progress)
    with library.session() as session:
        row = session.exec(select(Scouting).where(Scouting.frame_id == done.frames[0].id)).one()
        row.state, row.error = RunState.FAILED, "It broke off."
        session.add(row)
    again = run_job(library, job, no_progress)
    assert not again.trouble
    assert not again.undecided
