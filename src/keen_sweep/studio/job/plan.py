"""The plan of a job, as its file tells it."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.sentences import sentence
from keen_sweep.studio.delivering.wanted import Wanted

# Which take is picked: the first that is offered if the review has nothing to say of it, or else the next that it has
# nothing to say of; the first whatever it says; or none, so that somebody chooses.
Picking = Literal["clean", "first", "none"]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Gathering(_Part):
    """Which folder the pictures come from."""

    folder: Path


class Looking(_Part):
    """What scouts look for; small: small and distant people and things too."""

    kinds: tuple[FindKind, ...] = Field(default=(FindKind.PEOPLE, FindKind.WIRES, FindKind.SPECKS), min_length=1)
    small: bool = False


class Keeping(_Part):
    """What of the finds goes. kinds: all that was looked for where nothing is said; sure: how sure a scout is at least;
    ticked: only what is ticked on the desk, which leaves out whom the picture seems to be of; most: so many of a frame,
    the surest."""

    kinds: tuple[FindKind, ...] | None = None
    sure: float = Field(default=0.5, ge=0, le=1)
    ticked: bool = True
    most: int = Field(default=40, ge=0, le=1_000)


class Filling(_Part):
    """How each sweep is filled."""

    takes: int = Field(default=3, ge=1, le=12)
    quality: Quality = Quality.FINE


class Reviewing(_Part):
    """Which take is picked. snag: what the review says counts from this strength on."""

    pick: Picking = "clean"
    snag: float = Field(default=0.0, ge=0)


class Delivering(Wanted):
    """Where deliveries go. undecided: pictures with sweeps that nothing was picked for are delivered too; over: files
    that are there already may be written over."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    folder: Path
    undecided: bool = False
    over: bool = False

    @property
    def wanted(self) -> Wanted:
        """The same without its place."""
        return Wanted(**{name: getattr(self, name) for name in Wanted.model_fields})


class Reporting(_Part):
    """Where the report goes: a page of HTML that stands by itself."""

    file: Path


class Job(_Part):
    """A job. Folders and files are told from where the job's own file lies."""

    shoot: str = Field(min_length=1, max_length=200)
    gather: Gathering
    scouts: Looking = Looking()
    keep: Keeping = Keeping()
    fill: Filling = Filling()
    review: Reviewing = Reviewing()
    deliver: Delivering | None = None
    report: Reporting | None = None

    @field_validator("shoot")
    @classmethod
    def _plain(cls, name: str) -> str:
        return name.strip()


def job_from(file: Path) -> Job:
    """The job that a file tells. Raises BadRequest for one that cannot be read or says what makes no sense."""
    try:
        job = Job.model_validate(tomllib.loads(file.read_text()))
    except OSError as error:
        raise BadRequest(
            sentence("The job {file} cannot be read: {reason}.", file=file, reason=error.strerror or error)
        ) from error
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise BadRequest(sentence("The job {file} is not valid TOML: {error}.", file=file, error=error)) from error
    except ValidationError as error:
        problems = [f"{'.'.join(map(str, each['loc']))}: {each['msg']}" for each in error.errors()]
        raise BadRequest(
            sentence("The job {file} is not valid: {problems}.", file=file, problems="; ".join(problems))
        ) from error
    beside = file.expanduser().resolve().parent
    changes: dict[str, object] = {
        "gather": job.gather.model_copy(update={"folder": beside / job.gather.folder.expanduser()})
    }
    if job.deliver is not None:
        changes["deliver"] = job.deliver.model_copy(update={"folder": beside / job.deliver.folder.expanduser()})
    if job.report is not None:
        changes["report"] = Reporting(file=beside / job.report.file.expanduser())
    return job.model_copy(update=changes)
