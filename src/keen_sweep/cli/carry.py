"""keen-sweep carry: masks of one picture in, masks of its sister frames out."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, check_folder, say
from keen_sweep.core.errors import BadRequest, NotTheSamePlace
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.core.arrays import EightBit
    from keen_sweep.core.photo.picture import Picture
    from keen_sweep.core.series.landing import Landing


@app.command()
def carry(
    frame: Annotated[Path, typer.Option("--from", help="the picture that the masks are of")],
    to: Annotated[list[Path], typer.Option(help="a sister frame to carry them to; may be repeated")],
    masks: Annotated[Path, typer.Option(help="a folder of masks of that picture; white is removed")],
    out: Annotated[Path, typer.Option(help="folder for FRAME-MASK.png, a mask of each sister's size")],
    as_json: Annotated[bool, typer.Option("--json", help="print where each mask landed, as JSON")] = False,
) -> None:
    """Carry masks over to sister frames, moved by what both pictures show."""
    from keen_sweep.core.box import box_of
    from keen_sweep.core.mask.area import area_to_bytes
    from keen_sweep.core.mask.check import read_mask
    from keen_sweep.core.mask.mask import Mask
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import write_whole
    from keen_sweep.core.series.align import align
    from keen_sweep.core.series.landing import Verdict, land
    from keen_sweep.core.series.view import view_of

    one = read_picture(frame)
    files = sorted(masks.glob("*.png")) if masks.is_dir() else []
    if not files:
        raise BadRequest(sentence("There is no mask NAME.png in the folder {masks}.", masks=masks))
    marked = {file.stem: read_mask(file, one) for file in files}
    check_folder(out)
    report: list[dict[str, Any]] = []
    with bar() as shown:
        task = shown.add_task("carrying", total=len(to) * len(marked))
        for path in to:
            other = read_picture(path)
            try:
                alignment = align(view_of(one.pixels), view_of(other.pixels))
            except NotTheSamePlace:
                report += [{"frame": str(path), "mask": name, "verdict": sentence("another place")} for name in marked]
                shown.advance(task, len(marked))
                continue
            for name, mask in marked.items():
                box = box_of(mask)
                found = land(one.pixels, Mask(box, mask[box.slices]), other.pixels, alignment)
                line: dict[str, Any] = {"frame": str(path), "mask": name, "verdict": found.verdict.value}
                line["confidence"] = round(found.confidence, 3)
                if found.verdict in (Verdict.LANDED, Verdict.DOUBTFUL):
                    file = out / f"{path.stem}-{name}.png"
                    write_whole(file, area_to_bytes(_moved(mask, found, other)))
                    line["file"] = str(file)
                report.append(line)
                shown.advance(task)
    if as_json:
        print(json.dumps({"carried": report}))
        return
    for line in report:
        where = line.get("file", line["frame"])
        say(f"{where}  {line['mask']}: {line['verdict']}")


def _moved(mask: EightBit, found: Landing, other: Picture) -> EightBit:
    """A mask (H, W) as it lies in the other picture, (H', W')."""
    from keen_sweep.core.box import Box, box_of
    from keen_sweep.core.mask.area import Area
    from keen_sweep.core.mask.areas import as_area
    from keen_sweep.core.mask.mask import Mask
    from keen_sweep.core.mask.shape import compose
    from keen_sweep.core.series.transferred_shape import transfer_shape

    files: list[bytes] = []

    def keep(data: bytes) -> str:
        files.append(data)
        return str(len(files) - 1)

    def load(name: str) -> bytes:
        return files[int(name)]

    box = box_of(mask)
    area = transfer_shape(as_area(Mask(box, mask[box.slices]), keep), found.places, load, keep)
    assert isinstance(area, Area)
    return compose([area], Box(x=0, y=0, width=other.width, height=other.height), load)[0]
