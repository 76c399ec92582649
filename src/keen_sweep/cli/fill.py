"""keen-sweep fill: a picture and a mask in, takes out."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer
from numpy.typing import NDArray

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, check_folder, console
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.errors import BadRequest, NotTheSamePlace
from keen_sweep.core.fill.borrow.engine import BorrowEngine
from keen_sweep.core.fill.borrow.sister import Sister, surroundings_in
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.order import Engine, Order
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.fill.words.command import answer_to
from keen_sweep.core.mask.check import read_mask
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.write import encode_picture, write_whole
from keen_sweep.core.series.align import align
from keen_sweep.core.series.view import view_of
from keen_sweep.settings import Settings
from keen_sweep.studio.carrying.sisters import people_in
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.models.unregistered import engine_at


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


SUFFIX = {FormatName.PNG: "png", FormatName.TIFF: "tif", FormatName.JPEG: "jpg"}


@app.command()
def fill(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    mask: Annotated[Path, typer.Option(help="a picture of the same size: white is removed")],
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
    hint: Annotated[str, typer.Option(help="what should be seen there, in a few words")] = "",
    avoid: Annotated[str, typer.Option(help="what must not be seen there")] = "",
    credits: Annotated[float, typer.Option(min=0, help="how much a service may take; its key: KEEN_SWEEP_KEY")] = 0.0,
    format: Annotated[FormatName, typer.Option()] = FormatName.PNG,
    as_json: Annotated[bool, typer.Option("--json", help="print what was made as JSON")] = False,
) -> None:
    """Fill the masked area of a picture, several takes, best first."""
    started = time.perf_counter()
    for words in (hint, avoid):
        answer = answer_to(words)
        if answer:
            raise BadRequest(answer)
    picture = read_picture(photo)
    area = read_mask(mask, picture)
    check_folder(out)
    how = Fill(takes=takes, quality=quality, staged=stages, seed=seed, credits=credits)
    if (method is LocalMethod.BORROW) != bool(sister):
        raise BadRequest("Borrowing needs sister frames: give --method borrow and --sister PHOTO together.")
    if sister:
        engine: Engine = BorrowEngine([_sister(picture, area, path) for path in sister])
    else:
        engine = engine_at(model, area, how, Settings().key) if model else engine_for(Method(method))
    with bar() as shown:
        task = shown.add_task("filling", total=1.0)

        def progress(share: float, doing: str) -> None:
            shown.update(task, completed=share, description=doing)

        order = Order(
            below=picture.pixels,
            mask=area,
            seed=seed,
            takes=takes,
            quality=quality,
            staged=stages,
            hint=hint,
            avoid=avoid,
            progress=progress,
        )
        patches = sorted(engine.fill(order), key=lambda patch: (patch.energy, patch.seed))
        made: list[dict[str, Any]] = []
        for number, patch in enumerate(patches, start=1):
            shown.update(task, completed=1.0, description=f"writing take {number}")
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


def _sister(picture: Picture, area: NDArray[np.uint8], path: Path) -> Sister:
    """Another picture to borrow from, without its people near what is filled. Raises BadRequest when it shows another
    place."""
    other = read_picture(path)
    try:
        alignment = align(view_of(picture.pixels), view_of(other.pixels))
    except NotTheSamePlace as error:
        raise BadRequest(f"{path} does not show the same place.") from error
    window = surroundings_in(other.pixels, alignment, box_of(area))
    if window.empty:
        raise BadRequest(f"{path} does not show what is marked.")
    cut = other.pixels[window.slices]
    return Sister(path.stem, cut, alignment.cut_other(window), people_in(cut))
