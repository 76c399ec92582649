"""keen-sweep fill: a picture and a mask in, takes out."""

from __future__ import annotations

import json
import time
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, check_folder, say
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.core.fill.lead import LeadLine
    from keen_sweep.core.fill.patch import Patch
    from keen_sweep.core.photo.picture import Picture
    from keen_sweep.core.progress import Progress


class LocalMethod(StrEnum):
    """The methods that need no model; a model is named by where it is."""

    AUTO = Method.AUTO.value
    CLOSE = Method.CLOSE.value
    WEAVE = Method.WEAVE.value
    BORROW = Method.BORROW.value
    BACKDROP = Method.BACKDROP.value
    REFLECTION = Method.REFLECTION.value


class FormatName(StrEnum):
    """The formats that takes are written in."""

    PNG = "png"
    TIFF = "tiff"
    JPEG = "jpeg"


# Takes that are encoded at the same time: each holds a copy of the whole picture.
PACKER_THREADS = 2
FORMAT_SUFFIX = {FormatName.PNG: "png", FormatName.TIFF: "tif", FormatName.JPEG: "jpg"}


@app.command()
def fill(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    mask: Annotated[Path, typer.Option(help="mask of the same size; white is removed")],
    out: Annotated[Path, typer.Option(help="folder for take-1, take-2, ...; take-1 is the one to prefer")],
    takes: Annotated[int, typer.Option(min=1, max=12)] = 3,
    seed: Annotated[int, typer.Option(min=0, max=2**31 - 1)] = 0,
    method: Annotated[LocalMethod, typer.Option()] = LocalMethod.AUTO,
    quality: Annotated[Quality, typer.Option()] = Quality.FINE,
    stages: Annotated[bool, typer.Option("--stages", help="fill long parts section by section")] = False,
    model: Annotated[
        str | None, typer.Option(help="an ONNX file, a folder in the diffusers format or the address of a service")
    ] = None,
    sister: Annotated[
        list[Path] | None, typer.Option(help="another picture of the same place, to borrow from; may be repeated")
    ] = None,
    hint: Annotated[str, typer.Option(help="what the fill should show, in a few words")] = "",
    avoid: Annotated[str, typer.Option(help="what the fill must not show")] = "",
    lead: Annotated[
        Path | None,
        typer.Option(help='JSON: [[x, y], ...] or {"points": ..., "brings": "edge", "ground", "mirror" or "repeat"}'),
    ] = None,
    credits: Annotated[
        float, typer.Option(min=0, help="most credits that a service may charge; its key is read from KEEN_SWEEP_KEY")
    ] = 0.0,
    format: Annotated[FormatName, typer.Option()] = FormatName.PNG,
    as_json: Annotated[bool, typer.Option("--json", help="print the takes as JSON")] = False,
) -> None:
    """Fill the masked area of a picture, several takes, best first."""
    from keen_sweep.core.mask.check import read_mask
    from keen_sweep.core.photo.read import read_picture

    started = time.perf_counter()
    with ThreadPoolExecutor(max_workers=1) as reader:
        # The picture is read while what fills it is loaded.
        reading = reader.submit(read_picture, photo)
        from keen_sweep.settings import Settings
        from keen_sweep.studio.filling.fill import Fill
        from keen_sweep.studio.filling.standalone import StandaloneFill, takes_of

        picture = reading.result()
    area = read_mask(mask, picture)
    check_folder(out)
    wanted = StandaloneFill(
        fill=Fill(takes=takes, quality=quality, staged=stages, seed=seed, credits=credits),
        method=Method(method),
        model=model,
        sisters=tuple(sister or ()),
        hint=hint,
        avoid=avoid,
        lead=_lines(lead) if lead else (),
        key=Settings().key,
    )
    with bar() as shown:
        task = shown.add_task("filling", total=1.0)

        def progress(share: float, doing: str) -> None:
            shown.update(task, completed=share, description=doing)

        made = _written(picture, takes_of(picture.pixels, area, wanted, progress), out, format, progress)
    _say_what(made, time.perf_counter() - started, as_json)


def _lines(file: Path) -> tuple[LeadLine, ...]:
    """Lead lines from a file. Raises BadRequest."""
    from pydantic import TypeAdapter, ValidationError

    from keen_sweep.core.errors import BadRequest
    from keen_sweep.core.fill.lead import LeadLine

    try:
        entries = TypeAdapter(list[LeadLine | list[tuple[float, float]]]).validate_json(file.read_bytes())
        return tuple(each if isinstance(each, LeadLine) else LeadLine(points=tuple(each)) for each in entries)
    except OSError as error:
        raise BadRequest(
            sentence("{file} cannot be read: {reason}.", file=file, reason=error.strerror or error)
        ) from error
    except ValidationError as error:
        first = error.errors()[0]["msg"]
        raise BadRequest(sentence("{file} is not a list of lines: {reason}.", file=file, reason=first)) from error


def _written(
    picture: Picture, patches: Iterable[Patch], out: Path, kind: FormatName, progress: Progress
) -> list[dict[str, Any]]:
    """Write takes as they come, the best first; what is told of each."""
    from keen_sweep.core.photo.write import write_whole

    # A take is packed while the next is made; which is the best is known when all are there.
    with ThreadPoolExecutor(max_workers=PACKER_THREADS) as packer:
        packed = [(patch, packer.submit(_packed, picture, patch, kind)) for patch in patches]
        packed.sort(key=lambda each: (each[0].energy, each[0].seed))
        made = []
        for number, (patch, data) in enumerate(packed, start=1):
            progress(1.0, sentence("writing take {number}", number=number))
            file = out / f"take-{number}.{FORMAT_SUFFIX[kind]}"
            write_whole(file, data.result())
            made.append(_told(file, patch))
    return made


def _packed(picture: Picture, patch: Patch, kind: FormatName) -> bytes:
    """The picture with a take laid, as a file."""
    from keen_sweep.core.box import whole
    from keen_sweep.core.fill.patch import lay, lay_alpha
    from keen_sweep.core.photo.write import encode_picture

    pixels = picture.pixels.copy()
    lay(pixels, whole(pixels), patch)
    alpha = None if picture.alpha is None else picture.alpha.copy()
    if alpha is not None:
        lay_alpha(alpha, whole(pixels), patch)
    return encode_picture(replace(picture, pixels=pixels, alpha=alpha), kind.value)


def _say_what(made: list[dict[str, Any]], seconds: float, as_json: bool) -> None:
    """Tell a script or whoever looks which takes were made, and how."""
    if as_json:
        print(json.dumps({"takes": made, "seconds": round(seconds, 3)}))
        return
    for take in made:
        say(f"{take['file']}  seed {take['seed']}, {take['seconds']} s")
    for part in made[0]["parts"]:
        say(f"  {part['method']}: {part['why']}")


def _told(file: Path, patch: Patch) -> dict[str, Any]:
    """What a script is told of a take."""
    return {
        "file": str(file),
        "method": patch.method,
        "seed": patch.seed,
        "seconds": round(patch.seconds, 3),
        "made": patch.provenance.model_dump(mode="json", exclude_none=True),
        "parts": [{**vars(part), "box": part.box.model_dump()} for part in patch.parts],
    }
