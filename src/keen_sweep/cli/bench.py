"""keen-sweep bench: what was built, measured; one subcommand for each thing that can be."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import check_folder
from keen_sweep.core.errors import BadRequest

bench = typer.Typer(no_args_is_help=True, invoke_without_command=True, rich_markup_mode=None)
app.add_typer(bench, name="bench")

Out = Annotated[Path, typer.Option(help="folder for what was measured")]


def _say(line: str) -> None:
    print(line, flush=True)


@bench.callback()
def fills(
    context: typer.Context,
    out: Annotated[Path | None, typer.Option(help="folder for the table, the JSON and a contact sheet a case")] = None,
    case: Annotated[list[str] | None, typer.Option(help="only cases with this in their name; may be repeated")] = None,
    references: Annotated[bool, typer.Option(help="run the reference methods too")] = True,
    takes: Annotated[int, typer.Option(min=1, max=12)] = 3,
    seed: Annotated[int, typer.Option(min=0, max=2**31 - 1)] = 0,
    pictures: Annotated[
        Path, typer.Option(help="below which Debian's packages of photographs were installed or unpacked")
    ] = Path("/"),
) -> None:
    """Measure fills against exact truth, beside reference methods in the same run (docs/benchmark.md), or something
    else with one of the commands below."""
    if context.invoked_subcommand is not None:
        return
    if out is None:
        raise BadRequest("Say with --out into which folder what is measured goes.")
    try:
        from keen_sweep.bench.bench import run_bench
    except ImportError as error:
        raise BadRequest(f"The benchmark needs {error.name}: install the extra keen-sweep[bench].") from error
    check_folder(out)
    run_bench(out, case or [], references, takes, seed, _say, pictures)


def _write(out: Path, name: str, run: Callable[[Callable[[str], None]], str]) -> None:
    check_folder(out)
    (out / name).write_text(run(_say) + "\n")


@bench.command()
def cling(out: Out) -> None:
    """Cling, against marks as careless as they come (docs/marking.md)."""
    from keen_sweep.bench.cling import run_cling, table

    def run(tell: Callable[[str], None]) -> str:
        text = table(run_cling(tell))
        tell(text)
        return text

    _write(out, "cling.md", run)


@bench.command()
def field(
    out: Out,
    pictures: Annotated[Path, typer.Option(help="where photographs are kept, and fetched into if they are missing")],
    fills: Annotated[bool, typer.Option(help="fill them too, and lay before and after side by side")] = False,
    half: Annotated[str, typer.Option(help="looked-at, kept-back or both")] = "both",
) -> None:
    """Hurried marks over real things in real photographs (docs/field.md)."""
    from keen_sweep.bench.field.field import by_thing, run_field, table
    from keen_sweep.bench.field.scouts import run_scouted, scouted_table
    from keen_sweep.bench.field.sheets import fill_sheets

    halves = {"looked-at": False, "kept-back": True, "both": None}
    if half not in halves:
        raise BadRequest(f"--half: one of {', '.join(halves)}.")

    def run(tell: Callable[[str], None]) -> str:
        marked = run_field(pictures, tell, kept_back=halves[half])
        text = "\n\n".join(
            [table(marked), by_thing(marked, "zigzag"), scouted_table(run_scouted(pictures, tell, halves[half]))]
        )
        tell(text)
        if fills:
            fill_sheets(pictures, out, tell, halves[half])
        return text

    _write(out, "field.md", run)


@bench.command()
def lead(out: Out) -> None:
    """Lines and arrows that lead a fill, on a made set (docs/benchmark.md)."""
    from keen_sweep.bench.lead import run_lead

    _write(out, "lead.md", run_lead)


@bench.command()
def shadows(out: Out) -> None:
    """Shadows of marked things, on the demo and on textures under a known sun (docs/marking.md)."""
    from keen_sweep.bench.shadows import run_shadows, table

    def run(tell: Callable[[str], None]) -> str:
        text = table(run_shadows(tell))
        tell(text)
        return text

    _write(out, "shadows.md", run)


@bench.command()
def scouts(out: Out) -> None:
    """The scouts (docs/scouts.md)."""
    from keen_sweep.bench.scouts import run_scouts

    _write(out, "scouts.md", run_scouts)


@bench.command()
def review(out: Out) -> None:
    """The second look, on planted faults and clean truth (docs/review.md)."""
    from keen_sweep.bench.review import run_review

    _write(out, "review.md", run_review)


@bench.command()
def models(out: Out) -> None:
    """Models and hints (docs/models.md)."""
    from keen_sweep.bench.models import run_models

    _write(out, "models.md", run_models)


@bench.command()
def series(out: Out) -> None:
    """Alignment, carrying over and borrowing (docs/series.md)."""
    from keen_sweep.bench.series import run_series

    _write(out, "series.md", run_series)


@bench.command()
def touch(out: Out) -> None:
    """Touch-up strokes: their time, as ratios (docs/review.md)."""
    from keen_sweep.bench.touch import run_touch

    _write(out, "touch.md", run_touch)


@bench.command()
def curve(out: Out) -> None:
    """Time against the area of the hole, as ratios."""
    from keen_sweep.bench.curve import run_curve

    _write(out, "curve.md", run_curve)


@bench.command()
def speed(out: Out) -> None:
    """What a user waits for, from the start of the process to the last file (docs/speed.md)."""
    from keen_sweep.bench.speed import run_speed

    _write(out, "speed.md", run_speed)


@bench.command()
def cluster(
    out: Out, fills: Annotated[int, typer.Option(min=1, help="how many small fills, for each number of workers")] = 200
) -> None:
    """A cluster of one worker and of two, on this machine (docs/cluster.md)."""
    try:
        from keen_sweep.bench.cluster import run_cluster
    except ModuleNotFoundError as error:
        raise BadRequest(f"A cluster needs {error.name}: install the extra keen-sweep[cluster].") from error
    _write(out, "cluster.md", lambda tell: run_cluster(tell, fills))


@bench.command()
def deliver(
    out: Out, times: Annotated[int, typer.Option(min=1, help="how many pictures are delivered each way")] = 100
) -> None:
    """Delivering JPEGs, as ratios to decoding and encoding them (docs/delivery.md)."""
    from keen_sweep.bench.deliver import run_deliver

    _write(out, "deliver.md", lambda tell: run_deliver(tell, times))


@bench.command()
def library(
    out: Out,
    frames: Annotated[int, typer.Option(min=1)] = 500,
    revisions: Annotated[int, typer.Option(min=1)] = 20_000,
) -> None:
    """A library that was worked in for long: opening and checking it (docs/trust.md)."""
    from keen_sweep.bench.library import run_library

    _write(out, "library.md", lambda tell: run_library(tell, frames, revisions))
