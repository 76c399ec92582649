"""The same use cases from a shell."""

from __future__ import annotations

import json
import socket
import sys
import time
from dataclasses import replace
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError
from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn
from typer._click.exceptions import ClickException

from keen_sweep.core.errors import BadRequest, KeenSweepError
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.settings import Settings
from keen_sweep.simulated import PORT as SERVICE_PORT

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False, rich_markup_mode=None)
# Messages and bars go to stderr: stdout is for what a script reads.
console = Console(stderr=True)


class MethodName(StrEnum):
    auto = "auto"
    close = "close"
    weave = "weave"
    backdrop = "backdrop"
    reflection = "reflection"


class QualityName(StrEnum):
    fast = "fast"
    fine = "fine"


class FormatName(StrEnum):
    png = "png"
    tiff = "tiff"
    jpeg = "jpeg"


SUFFIX = {FormatName.png: "png", FormatName.tiff: "tif", FormatName.jpeg: "jpg"}


def main() -> None:
    """Run the command line: exit 0 on success, 2 with one line on stderr for bad input."""
    try:
        code = app(standalone_mode=False)
    except ClickException as error:
        _fail(error.format_message().removeprefix("Value error, "))
    except KeenSweepError as error:
        _fail(str(error))
    except (typer.Abort, KeyboardInterrupt):
        sys.exit(130)
    sys.exit(code if isinstance(code, int) else 0)


def _fail(message: str) -> None:
    print("keen-sweep: " + " ".join(message.split()), file=sys.stderr)
    sys.exit(2)


@app.callback()
def about() -> None:
    """Take people, wires, reflections and other distractions out of photographs."""


@app.command()
def fill(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    mask: Annotated[Path, typer.Option(help="a picture of the same size: white is removed")],
    out: Annotated[Path, typer.Option(help="folder for take-1, take-2, ...; take-1 is the one to prefer")],
    takes: Annotated[int, typer.Option(min=1, max=12)] = 3,
    seed: Annotated[int, typer.Option(min=0, max=2**31 - 1)] = 0,
    method: Annotated[MethodName, typer.Option()] = MethodName.auto,
    quality: Annotated[QualityName, typer.Option()] = QualityName.fine,
    stages: Annotated[bool, typer.Option("--stages", help="fill long parts section by section")] = False,
    model: Annotated[
        str | None, typer.Option(help="an ONNX file, a folder in the diffusers format or the address of a service")
    ] = None,
    hint: Annotated[str, typer.Option(help="what should be seen there, in a few words")] = "",
    avoid: Annotated[str, typer.Option(help="what must not be seen there")] = "",
    credits: Annotated[float, typer.Option(min=0, help="how much a service may take; its key: KEEN_SWEEP_KEY")] = 0.0,
    format: Annotated[FormatName, typer.Option()] = FormatName.png,
    as_json: Annotated[bool, typer.Option("--json", help="print what was made as JSON")] = False,
) -> None:
    """Fill the masked area of a picture, several takes, best first."""
    from keen_sweep.core.box import whole
    from keen_sweep.core.fill.engines import engine_for
    from keen_sweep.core.fill.patch import lay
    from keen_sweep.core.fill.protocol import Order
    from keen_sweep.core.fill.words.order import answer_to
    from keen_sweep.core.mask.check import read_mask
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import encode_picture, write_whole

    started = time.perf_counter()
    for words in (hint, avoid):
        answer = answer_to(words)
        if answer:
            raise BadRequest(answer)
    picture = read_picture(photo)
    area = read_mask(mask, picture)
    _check_folder(out)
    engine = _model_engine(model, area, takes, stages, credits) if model else engine_for(method.value)
    with _bar() as bar:
        task = bar.add_task("filling", total=1.0)

        def progress(share: float, doing: str) -> None:
            bar.update(task, completed=share, description=doing)

        order = Order(
            below=picture.pixels,
            mask=area,
            seed=seed,
            takes=takes,
            quality=quality.value,
            staged=stages,
            hint=hint,
            avoid=avoid,
            progress=progress,
        )
        patches = sorted(engine.fill(order), key=lambda patch: (patch.energy, patch.seed))
        made: list[dict[str, Any]] = []
        for number, patch in enumerate(patches, start=1):
            bar.update(task, completed=1.0, description=f"writing take {number}")
            pixels = picture.pixels.copy()
            lay(pixels, whole(pixels), patch)
            file = out / f"take-{number}.{SUFFIX[format]}"
            write_whole(file, encode_picture(replace(picture, pixels=pixels), format.value))
            parts = [{**vars(part), "box": part.box.model_dump()} for part in patch.parts]
            made.append(
                {
                    "file": str(file),
                    "method": patch.method,
                    "seed": patch.seed,
                    "seconds": round(patch.seconds, 3),
                    "made": patch.parameters,
                    "parts": parts,
                }
            )
    seconds = round(time.perf_counter() - started, 3)
    if as_json:
        print(json.dumps({"takes": made, "seconds": seconds}))
        return
    for take in made:
        console.print(f"{take['file']}  seed {take['seed']}, {take['seconds']} s", highlight=False)
    for part in made[0]["parts"]:
        console.print(f"  {part['method']}: {part['why']}", highlight=False)


def _model_engine(place: str, mask: Any, takes: int, stages: bool, credits: float) -> Any:
    """The engine of a model by where it is; a service only within the credits that were agreed to."""
    import os

    from pydantic import SecretStr

    from keen_sweep.core.box import whole
    from keen_sweep.core.fill.model.engine import ModelEngine
    from keen_sweep.core.fill.model.onnx_file import OnnxModel
    from keen_sweep.core.fill.model.sections import sections_of, sizes_of
    from keen_sweep.core.fill.model.service import ServiceModel

    if not place.startswith(("http://", "https://")):
        path = Path(place).expanduser()
        if path.is_dir():
            from keen_sweep.core.fill.model.diffusers_folder import DiffusersModel

            return ModelEngine(DiffusersModel(path))
        return ModelEngine(OnnxModel(path))
    service = ServiceModel(place, SecretStr(os.environ.get("KEEN_SWEEP_KEY", "")))
    sizes = sizes_of(sections_of(mask > 0, service, stages), whole(mask), service)
    price = takes * sum(service.quote(*size).credits for size in sizes)
    if price > credits:
        raise BadRequest(f"{service.name} asks {price:g} credits for this: say --credits {price:g} if that is right.")
    return ModelEngine(service)


@app.command()
def mask(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    out: Annotated[Path, typer.Option(help="the mask to write, a PNG of the picture's size")],
    stroke: Annotated[list[str], typer.Option(help='"x,y x,y ... @SIZE" in picture pixels; may be repeated')],
    cling: Annotated[bool, typer.Option("--cling", help="tighten each stroke to the thing under it")] = False,
    grow: Annotated[float | None, typer.Option(help="pixels; below 0 shrinks; with --cling found by itself")] = None,
    feather: Annotated[float, typer.Option(help="standard deviation of the soft edge, pixels")] = 0.0,
) -> None:
    """Make a mask from brush strokes."""
    import numpy as np

    from keen_sweep.core.mask.area import area_to_bytes
    from keen_sweep.core.mask.cling import cling as cling_to
    from keen_sweep.core.mask.edge import margin_for
    from keen_sweep.core.mask.fit import Fit, fitted
    from keen_sweep.core.mask.mark import Mark, mask_of
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import write_whole

    strokes = [_stroke(words) for words in stroke]
    picture = read_picture(photo)
    size = picture.width, picture.height
    drawn = [mask_of(Mark(shapes=(each,)), *size) for each in strokes]
    if not any(each.pixels.any() for each in drawn):
        raise BadRequest("The strokes lie outside the picture.")
    if cling:
        drawn = [cling_to(picture.pixels, each.full(*size) > 0) for each in drawn if each.pixels.any()]
        if grow is None:
            grow = max(margin_for(picture.pixels, each) for each in drawn)
    whole = np.maximum.reduce([each.full(*size) for each in drawn])
    try:
        fit = Fit(margin=grow or 0.0, feather=feather)
    except ValidationError as error:
        first = error.errors()[0]
        name = {"margin": "--grow", "feather": "--feather"}[str(first["loc"][0])]
        raise BadRequest(f"{name}: {first['msg']}.") from error
    write_whole(out, area_to_bytes(fitted(whole, np.zeros_like(whole), fit)))


def _stroke(words: str) -> Stroke:
    """A stroke from "x,y x,y ... @SIZE". Raises BadRequest."""
    try:
        *points, size = words.split()
        if not size.startswith("@") or not points:
            raise ValueError
        places = tuple((float(x), float(y)) for x, y in (point.split(",") for point in points))
        width = float(size[1:])
    except ValueError:
        raise BadRequest(f'A stroke is written "x,y x,y ... @SIZE", not "{words}".') from None
    try:
        return Stroke(points=places, size=width)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadRequest(f'The stroke "{words}" cannot be used: {first["loc"][0]}: {first["msg"]}.') from error


@app.command()
def scout(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    out: Annotated[Path, typer.Option(help="folder for the masks, one a find: people-1.png, ...")],
    kinds: Annotated[str, typer.Option("--for", help="what to look for, with commas between")] = "people,wires,specks",
    small: Annotated[
        bool, typer.Option("--small", help="small and distant people and things too, tile by tile")
    ] = False,
    as_json: Annotated[bool, typer.Option("--json", help="print the finds as JSON")] = False,
) -> None:
    """Look a picture over for distractions: people, things, wires, specks, backdrop, reflection.

    Every find is a mask of its own.
    """
    from keen_sweep.core.mask.area import area_to_bytes
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import write_whole
    from keen_sweep.core.scout.scouts import KINDS, look_for, looked_for

    wanted = [each.strip() for each in kinds.split(",") if each.strip()]
    unknown = [each for each in wanted if each not in (*KINDS, "reflection")]
    if unknown or not wanted:
        names = ", ".join((*KINDS, "reflection"))
        raise BadRequest(f"There is no scout for {', '.join(unknown) or 'nothing'}: choose from {names}.")
    started = time.perf_counter()
    picture = read_picture(photo)
    _check_folder(out)
    told: list[dict[str, Any]] = []
    empty: list[str] = []
    with _bar() as bar:
        for kind in KINDS:
            if kind not in wanted:
                continue
            task = bar.add_task(kind, total=1.0)

            def progress(share: float, doing: str, task: Any = task, kind: str = kind) -> None:
                bar.update(task, completed=share, description=f"{kind}: {doing}")

            finds = look_for(kind, picture.pixels, None, small, progress)
            bar.update(task, completed=1.0)
            if not finds:
                empty.append(looked_for(kind, small))
            for number, find in enumerate(finds, start=1):
                file = out / f"{kind}-{number}.png"
                write_whole(file, area_to_bytes(find.mask.full(picture.width, picture.height)))
                told.append(
                    {
                        "kind": kind,
                        "name": find.name,
                        "mask": str(file),
                        "box": find.mask.box.model_dump(),
                        "confidence": round(find.confidence, 3),
                        "subject": find.subject,
                        "reason": find.reason,
                    }
                )
    if "reflection" in wanted:
        empty += _reflection(picture, out, told)
    seconds = round(time.perf_counter() - started, 3)
    if as_json:
        print(json.dumps({"finds": told, "seconds": seconds}))
        return
    for each in told:
        console.print(f"{each['mask']}  {each['name']}: {each['reason']}", highlight=False)
    for sought in empty:
        console.print(f"None found of: {sought}.", highlight=False)


def _reflection(picture: Any, out: Path, told: list[dict[str, Any]]) -> list[str]:
    """Write the picture without its reflection, and the reflection alone; what was sought if there is none."""
    import numpy as np

    from keen_sweep.core.fill.separation import EVIDENCE, added_light, evidence_of
    from keen_sweep.core.photo.write import encode_picture, write_whole

    top = np.float32(np.iinfo(picture.pixels.dtype).max)
    seen = picture.pixels.astype(np.float32) / top
    evidence = evidence_of(seen)
    if evidence < EVIDENCE:
        return ["a reflection: soft light that lies over everything, as a pane adds it"]
    light = added_light(seen)
    for name, plane in (("clean", seen - light), ("alone", light)):
        pixels = np.rint(plane * top).clip(0, top).astype(picture.pixels.dtype)
        write_whole(out / f"reflection-{name}.png", encode_picture(replace(picture, pixels=pixels), "png"))
    told.append(
        {
            "kind": "reflection",
            "name": "Reflection",
            "mask": str(out / "reflection-alone.png"),
            "box": {"x": 0, "y": 0, "width": picture.width, "height": picture.height},
            "confidence": round(min(evidence / (4 * EVIDENCE), 1.0), 3),
            "subject": False,
            "reason": f"{evidence:.0%} of light lies over the picture; clean version in reflection-clean.png",
        }
    )
    return []


@app.command()
def serve(
    library: Annotated[Path | None, typer.Option(help="the library folder; made if it is not there")] = None,
    host: Annotated[str | None, typer.Option()] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535)] = None,
) -> None:
    """Start the application."""
    settings = Settings()
    _serve(library or settings.library, host or settings.host, port or settings.port)


@app.command()
def demo(
    library: Annotated[Path | None, typer.Option(help="where the demo library is or will be")] = None,
    host: Annotated[str | None, typer.Option()] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535)] = None,
    prepare: Annotated[bool, typer.Option("--prepare", help="make the demo library and stop there")] = False,
) -> None:
    """Start the application with the demo shoot, the Orrin Vale garden guide."""
    from keen_sweep.demo.library import make_demo_library
    from keen_sweep.demo.service import register_service, simulated

    settings = Settings()
    folder = library or settings.demo_library
    make_demo_library(folder.expanduser(), lambda doing: console.print(doing, highlight=False))
    if prepare:
        return
    with simulated(folder.expanduser().with_name("simulated-service")) as address:
        from keen_sweep.store.library import Library

        opened = Library(folder)
        register_service(opened, address)
        opened.close()
        print(f"The simulated generation service is at {address}; its switches are there too", flush=True)
        _serve(folder, host or settings.host, port or settings.port)


@app.command()
def service(
    port: Annotated[int, typer.Option(min=1, max=65535)] = SERVICE_PORT,
    folder: Annotated[Path | None, typer.Option(help="where its books are kept")] = None,
) -> None:
    """Start the simulated generation service, with which models are tried out; its switches are at its address."""
    from keen_sweep.simulated.serve import serve as run

    _free("127.0.0.1", port)
    print(f"The simulated service is at http://127.0.0.1:{port}", flush=True)
    run(folder or Settings().demo_library.expanduser().with_name("simulated-service"), port)


@app.command()
def bench(
    out: Annotated[Path, typer.Option(help="folder for the table, the JSON and a contact sheet a case")],
    case: Annotated[list[str] | None, typer.Option(help="only cases with this in their name; may be repeated")] = None,
    cling: Annotated[bool, typer.Option("--cling", help="measure cling instead (docs/marking.md)")] = False,
    scouts: Annotated[bool, typer.Option("--scouts", help="measure the scouts instead (docs/scouts.md)")] = False,
    review: Annotated[bool, typer.Option("--review", help="measure the second look instead (docs/review.md)")] = False,
    models: Annotated[bool, typer.Option("--models", help="measure models and hints instead (docs/models.md)")] = False,
    touch: Annotated[bool, typer.Option("--touch", help="measure touch-up strokes instead (docs/review.md)")] = False,
    curve: Annotated[bool, typer.Option("--curve", help="measure time against the area of the hole instead")] = False,
    references: Annotated[bool, typer.Option(help="run the reference methods too")] = True,
    takes: Annotated[int, typer.Option(min=1, max=12)] = 3,
    seed: Annotated[int, typer.Option(min=0, max=2**31 - 1)] = 0,
    pictures: Annotated[
        Path, typer.Option(help="below which Debian's packages of photographs were installed or unpacked")
    ] = Path("/"),
) -> None:
    """Measure fills against exact truth, beside reference methods in the same run (docs/benchmark.md)."""
    try:
        from keen_sweep.bench.bench import run_bench
    except ImportError as error:
        raise BadRequest(f"The benchmark needs {error.name}: install the extra keen-sweep[bench].") from error
    _check_folder(out)
    if cling:
        from keen_sweep.bench.cling import run_cling, table

        text = table(run_cling(print))
        (out / "cling.md").write_text(text + "\n")
        print(text)
        return
    if scouts:
        from keen_sweep.bench.scouts import run_scouts

        (out / "scouts.md").write_text(run_scouts(lambda line: print(line, flush=True)) + "\n")
        return
    if touch:
        from keen_sweep.bench.touch import run_touch

        (out / "touch.md").write_text(run_touch(print) + "\n")
        return
    if models:
        from keen_sweep.bench.models import run_models

        (out / "models.md").write_text(run_models(lambda line: print(line, flush=True)) + "\n")
        return
    if review:
        from keen_sweep.bench.review import run_review

        (out / "review.md").write_text(run_review(lambda line: print(line, flush=True)) + "\n")
        return
    if curve:
        from keen_sweep.bench.curve import run_curve

        (out / "curve.md").write_text(run_curve(print) + "\n")
        return
    run_bench(out, case or [], references, takes, seed, lambda line: print(line, flush=True), pictures)


@app.command()
def weights() -> None:
    """Fetch the networks that some scouts look through (part of set-up; the only command that needs a network)."""
    from keen_sweep.core.scout.networks.weights import folder
    from keen_sweep.install.weights import fetch_weights

    fetch_weights(lambda doing: console.print(doing, highlight=False))
    console.print(f"All networks are in {folder()}.", highlight=False)


@app.command(hidden=True)
def warm() -> None:
    """Compile all kernels (part of set-up)."""
    from keen_sweep.core.warm import warm as run

    run(lambda doing: console.print(doing, highlight=False))


@app.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI schema, from which the web front end's client is generated."""
    import tempfile

    from keen_sweep.api.app import make_app
    from keen_sweep.store.library import Library

    with tempfile.TemporaryDirectory() as folder:
        print(json.dumps(make_app(Library(Path(folder))).openapi(), indent=1))


def _serve(folder: Path, host: str, port: int) -> None:
    from keen_sweep.api.serve import serve as run
    from keen_sweep.store.library import Library

    library = Library(folder)
    _free(host, port)
    library.claim()
    shown = f"[{host}]" if ":" in host else host
    print(f"Keen Sweep is at http://{shown}:{port} (library {library.folder})", flush=True)
    run(library, host, port)


def _free(host: str, port: int) -> None:
    """Raise BadRequest unless an address is free."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise BadRequest(
                f"The address {host}:{port} cannot be used ({error.strerror}): choose another with --port."
            ) from error


def _check_folder(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        probe = folder / ".keen-sweep-probe"
        probe.touch()
        probe.unlink()
    except OSError as error:
        raise BadRequest(f"The folder {folder} cannot be written: {error.strerror or error}.") from error


def _bar() -> Progress:
    return Progress(TextColumn("{task.description}"), BarColumn(), TimeElapsedColumn(), console=console, transient=True)
