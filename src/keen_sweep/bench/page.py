"""A page to look a run through: a case after the other, its pictures and what was measured."""

from __future__ import annotations

from html import escape

from keen_sweep.bench.photographs import KEPT_BACK_KIND
from keen_sweep.bench.report import Line, sheet_name

PAGE_STYLE = """
body { font: 15px/1.5 sans-serif; margin: 2rem auto; max-width: 1720px; padding: 0 1rem; background: #ebebeb }
h2 { margin: 2.5rem 0 0; font-size: 1.1rem }
img { max-width: 100% }
p { margin: 0 0 .5rem }
nav a { margin-right: 1rem }
summary { margin-top: 2.5rem; font-weight: bold }
"""


def page(lines: list[Line]) -> str:
    """HTML with the sheets that lie beside it; the half that is kept back is folded away, so that nobody looks at it
    who does not mean to."""
    shown = [line for line in lines if line.kind != KEPT_BACK_KIND]
    kept = [line for line in lines if line.kind == KEPT_BACK_KIND]
    links = " ".join(f'<a href="#{sheet_name(line.name)}">{escape(line.name)}</a>' for line in shown)
    folded = f"<details><summary>Kept back: {len(kept)} cases</summary>{_sections(kept)}</details>" if kept else ""
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>The benchmark</title><style>{PAGE_STYLE}</style>'
        f"<h1>The benchmark</h1><nav>{links}</nav>{_sections(shown)}{folded}</html>\n"
    )


def _sections(lines: list[Line]) -> str:
    return "".join(_section(line) for line in lines)


def _section(line: Line) -> str:
    file = sheet_name(line.name)
    takes = ", ".join(f"{take['lswd']:.2f}" for take in line.ours.scores)
    first = line.ours.scores[0]
    said = (
        f"{line.pixels:,} pixels; lswd of the takes {takes}; of the first gmsd {first['gmsd']:.3f}, "
        f"sharp {first['sharp']:.2f}, seam {first['seam']:.2f}. {'; '.join(line.ours.why)}"
    )
    return (
        f'<section id="{file}"><h2>{escape(line.name)}</h2><p>{escape(said)}</p>'
        f'<img src="{file}" loading="lazy" alt="{escape(line.name)}: photo, truth, takes"></section>'
    )
