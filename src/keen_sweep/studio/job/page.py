"""The report of a job: a page of HTML that stands by itself, what needs somebody's eye first."""

from __future__ import annotations

import base64
from datetime import datetime
from html import escape

from keen_sweep.core.box import Box
from keen_sweep.core.deliver.ledger_pages import paragraph
from keen_sweep.core.photo import jpeg
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.sentences import counted_sentence, sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.job.plan import Job
from keen_sweep.studio.job.ready import candidates, standing_of
from keen_sweep.studio.job.run import Done
from keen_sweep.studio.look import Look, look

# Longer side of the pictures on the page, at most, pixels.
PICTURE_SIDE_PX = 360
# Quality of their JPEGs.
JPEG_QUALITY = 80
PAGE_STYLE = """
body { font: 11pt/1.45 "Atkinson Hyperlegible", sans-serif; color: #1b1b1a; margin: 2em auto; max-width: 64em; }
h1 { font-size: 1.5em; margin: 0 0 .1em; } h2 { font-size: 1.15em; margin: 1.8em 0 .4em; }
article { border-top: 1px solid #bbb8b0; padding: .7em 0 .9em; }
article { display: grid; gap: .9em; grid-template-columns: auto 1fr; }
h3 { font-size: 1em; margin: 0 0 .2em; } figure { margin: 0; display: flex; gap: .3em; } img { max-width: 15em; }
ul { margin: .1em 0; padding-left: 1.1em; } p { margin: .1em 0; } .wrong { font-weight: bold; }
@media print { article { break-inside: avoid; } }
"""


def page_of(library: Library, job: Job, done: Done, at: datetime) -> str:
    """The report of a job that has ended."""
    wants_an_eye = {*done.undecided, *done.trouble}
    groups = (
        (sentence("To look at"), [frame for frame in done.frames if frame.id in wants_an_eye]),
        (sentence("Done"), [frame for frame in done.frames if frame.id not in wants_an_eye]),
    )
    parts = [_refused(done)]
    for title, frames in groups:
        if frames:
            parts.append(f"<h2>{title}: {len(frames)}</h2>" + "".join(_frame(library, each, done) for each in frames))
    count = len(done.frames)
    counts = [counted_sentence("{count} picture", "{count} pictures", count)]
    if job.deliver is not None:
        folder = escape(str(job.deliver.folder))
        counts.append(sentence("{count} delivered into {folder}", count=len(done.written), folder=folder))
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(job.shoot)}</title>'
        f"<style>{PAGE_STYLE}</style><h1>{escape(job.shoot)}</h1><p>{', '.join(counts)}; "
        f"{at.strftime('%Y-%m-%d %H:%M')}, {done.seconds:.0f} s.</p>{''.join(parts)}</html>"
    )


def _refused(done: Done) -> str:
    if not done.refused:
        return ""
    rows = "".join(f"<li>{escape(each.file.name)}: {escape(each.why)}</li>" for each in done.refused)
    title = sentence("Files that could not be added: {count}", count=len(done.refused))
    return f"<h2>{title}</h2><ul>{rows}</ul>"


def _frame(library: Library, frame: Frame, done: Done) -> str:
    now, far = standing_of(library, frame)
    takes = candidates(library, now)
    rows = []
    for sweep in far.stack.sweeps:
        own = takes.get(sweep.id, [])
        picked = next((each for each in own if each.take.patch == sweep.pick), None)
        if picked is not None:
            said = sentence("{method} take picked", method=picked.take.method) + (
                ", " + sentence("review score {worst:.1f}", worst=picked.worst) if picked.worst else ""
            )
        elif own and sweep.as_shot:
            said = sentence("{count} takes, left as shot", count=len(own))
        elif own:
            said = sentence("{count} takes, none picked: each has snags", count=len(own))
            said += "; " + sentence("one stands provisionally") if sweep.id in far.provisional else ""
        else:
            said = sentence("not filled")
        rows.append(f"<li>{escape(sweep.name)}: {said}</li>")
    wrong = "".join(f'<p class="wrong">{escape(each)}</p>' for each in done.trouble.get(frame.id, []))
    files = "".join(paragraph(each) for each in done.written.get(frame.id, [])) or paragraph(sentence("not delivered"))
    found = f"<ul>{''.join(rows)}</ul>" if rows else paragraph(sentence("Nothing to remove was found."))
    pictures = [_picture(library, now, Look(as_shot=True), sentence("as shot"))]
    if rows:
        pictures.append(_picture(library, now, Look(), sentence("as it is now")))
    html = f"<h3>{escape(frame.name)}</h3>{wrong}{found}{files}"
    return f"<article><figure>{''.join(pictures)}</figure><div>{html}</div></article>"


def _picture(library: Library, frame: Frame, at: Look, what: str) -> str:
    level = 0
    while max(frame.width, frame.height) >> level > PICTURE_SIDE_PX:
        level += 1
    window = Box(x=0, y=0, width=-(-frame.width >> level), height=-(-frame.height >> level))
    small = Picture(pixels=look(library, frame.id, at, window, level).pixels, format="jpeg")
    data = base64.b64encode(jpeg.encode(small, JPEG_QUALITY)).decode()
    return f'<img alt="{escape(frame.name)}, {what}" src="data:image/jpeg;base64,{data}">'
