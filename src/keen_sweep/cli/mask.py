"""keen-sweep mask: brush strokes in, a mask out."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.core.mask.mark_kind import How
    from keen_sweep.core.mask.stroke import Stroke


@app.command()
def mask(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    out: Annotated[Path, typer.Option(help="the mask to write, a PNG of the picture's size")],
    stroke: Annotated[list[str], typer.Option(help='"x,y x,y ... @SIZE" in picture pixels; may be repeated')],
    cling: Annotated[bool, typer.Option("--cling", help="fit each stroke to the thing under it")] = False,
    grow: Annotated[
        float | None, typer.Option(help="pixels; below 0 shrinks; found automatically with --cling")
    ] = None,
    feather: Annotated[
        float | None, typer.Option(help="standard deviation of the soft edge, pixels; found automatically with --cling")
    ] = None,
) -> None:
    """Make a mask from brush strokes."""
    import numpy as np
    from pydantic import ValidationError

    from keen_sweep.core.box import whole
    from keen_sweep.core.mask.area import area_to_bytes
    from keen_sweep.core.mask.fit import Fit, fit_mask
    from keen_sweep.core.mask.shape import mask_of
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import write_whole

    strokes = [_stroke(words) for words in stroke]
    picture = read_picture(photo)
    size = picture.width, picture.height
    drawn = [mask_of([each], whole(picture.pixels)) for each in strokes]
    if not any(each.pixels.any() for each in drawn):
        raise BadRequest(sentence("The strokes lie outside the picture."))
    if cling:
        from keen_sweep.core.mask.removable import removable_mask

        kinds: list[How] = ["click" if each.is_dab else "scribble" for each in strokes]
        found = [
            removable_mask(picture.pixels, each.full(*size) > 0, how)
            for each, how in zip(drawn, kinds, strict=True)
            if each.pixels.any()
        ]
        drawn = [each.mask for each in found]
        grow = max(each.fit.margin for each in found) if grow is None else grow
        feather = max(each.fit.feather for each in found) if feather is None else feather
    together = np.maximum.reduce([each.full(*size) for each in drawn])
    try:
        fit = Fit(margin=grow or 0.0, feather=feather or 0.0)
    except ValidationError as error:
        first = error.errors()[0]
        name = {"margin": "--grow", "feather": "--feather"}[str(first["loc"][0])]
        raise BadRequest(sentence("{option}: {reason}.", option=name, reason=first["msg"])) from error
    write_whole(out, area_to_bytes(fit_mask(together, np.zeros_like(together), fit)))


def _stroke(words: str) -> Stroke:
    """A stroke from "x,y x,y ... @SIZE". Raises BadRequest."""
    from pydantic import ValidationError

    from keen_sweep.core.mask.stroke import Stroke

    try:
        *points, size = words.split()
        if not size.startswith("@") or not points:
            raise ValueError
        places = tuple((float(x), float(y)) for x, y in (point.split(",") for point in points))
        width = float(size[1:])
    except ValueError:
        raise BadRequest(sentence('A stroke is written "x,y x,y ... @SIZE", not "{words}".', words=words)) from None
    try:
        return Stroke(points=places, size=width)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadRequest(
            sentence(
                'The stroke "{words}" cannot be used: {place}: {reason}.',
                words=words,
                place=first["loc"][0],
                reason=first["msg"],
            )
        ) from error
