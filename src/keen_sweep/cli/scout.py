"""keen-sweep scout: a picture in, a mask for every find out."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, check_folder, say
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.core.photo.picture import Picture
    from keen_sweep.core.scout.found import Found


@app.command()
def scout(
    photo: Annotated[Path, typer.Argument(help="the picture: JPEG, PNG or TIFF; it is not changed")],
    out: Annotated[Path, typer.Option(help="folder for the masks, one for each find: people-1.png, ...")],
    kinds: Annotated[
        str, typer.Option("--for", help="what to search for, separated by commas")
    ] = "people,wires,specks",
    small: Annotated[bool, typer.Option("--small", help="search for small and distant people and things too")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="print the finds as JSON")] = False,
) -> None:
    """Look a picture over for distractions: people, things, wires, specks, backdrop, reflection.

    Every find is a mask of its own.
    """
    from keen_sweep.core.mask.area import area_to_bytes
    from keen_sweep.core.photo.read import read_picture
    from keen_sweep.core.photo.write import write_whole
    from keen_sweep.core.scout.scouts import ALL_KINDS, search_description, search_for

    wanted = [each.strip() for each in kinds.split(",") if each.strip()]
    unknown = [each for each in wanted if each not in (*ALL_KINDS, "reflection")]
    if unknown or not wanted:
        names = ", ".join((*ALL_KINDS, "reflection"))
        raise BadRequest(
            sentence(
                "There is no scout for {kinds}: choose from {names}.",
                kinds=", ".join(unknown) or "nothing",
                names=names,
            )
        )
    started = time.perf_counter()
    picture = read_picture(photo)
    check_folder(out)
    report: list[dict[str, Any]] = []
    empty: list[str] = []
    with bar() as shown:
        for kind in ALL_KINDS:
            if kind not in wanted:
                continue
            task = shown.add_task(kind, total=1.0)

            def progress(share: float, doing: str, task: Any = task, kind: str = kind) -> None:
                shown.update(task, completed=share, description=f"{kind}: {doing}")

            finds = search_for(kind, picture.pixels, None, small, progress)
            shown.update(task, completed=1.0)
            if not finds:
                empty.append(search_description(kind, small))
            for number, find in enumerate(finds, start=1):
                file = out / f"{kind}-{number}.png"
                write_whole(file, area_to_bytes(find.mask.full(picture.width, picture.height)))
                report.append(_told(kind, find, file))
    if "reflection" in wanted:
        empty += _reflection(picture, out, report)
    seconds = round(time.perf_counter() - started, 3)
    if as_json:
        print(json.dumps({"finds": report, "seconds": seconds}))
        return
    for each in report:
        say(f"{each['mask']}  {each['name']}: {each['reason']}")
    for sought in empty:
        say(sentence("None found of: {sought}.", sought=sought))


def _told(kind: str, find: Found, file: Path) -> dict[str, Any]:
    """What a script is told of a find."""
    return {
        "kind": kind,
        "name": find.name,
        "mask": str(file),
        "box": find.mask.box.model_dump(),
        "confidence": round(find.confidence, 3),
        "subject": find.subject,
        "reason": find.reason,
    }


def _reflection(picture: Picture, out: Path, report: list[dict[str, Any]]) -> list[str]:
    """Write the picture without its reflection, and the reflection alone; what was sought if there is none."""
    from keen_sweep.core.fill.separation import separate_reflection
    from keen_sweep.core.photo.write import encode_picture, write_whole

    found = separate_reflection(picture.pixels)
    if found is None:
        return [sentence("soft, even light over the whole picture, as reflected by glass out of focus")]
    for name, pixels in (("clean", found.clean), ("alone", found.alone)):
        write_whole(out / f"reflection-{name}.png", encode_picture(replace(picture, pixels=pixels), "png"))
    report.append(
        {
            "kind": "reflection",
            "name": sentence("Soft light"),
            "mask": str(out / "reflection-alone.png"),
            "box": {"x": 0, "y": 0, "width": picture.width, "height": picture.height},
            "confidence": round(found.confidence, 3),
            "subject": False,
            "reason": sentence(
                "{evidence:.0%} of soft light lies over the picture, of glass, mist or pale things; "
                "without it in reflection-clean.png",
                evidence=found.evidence,
            ),
        }
    )
    return []
