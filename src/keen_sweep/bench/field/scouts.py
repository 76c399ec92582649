"""What scouts find in real photographs that have neither dust nor wires, and of what is drawn into them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from keen_sweep.bench.drawn import dust_hits, with_dust, with_wires
from keen_sweep.bench.field.photographs import FieldThing, field_things
from keen_sweep.core.arrays import Bools
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.scout.specks import specks_in
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.wires import find_wires

# Specks drawn into a photograph at random places.
SPECK_COUNT = 12
PERSON_NAMES = ("man", "woman", "walker")


@dataclass(frozen=True)
class Scouted:
    """One photograph: false specks and wires as it is, the shares of drawn dust and wires that were found, and how many
    of the outlined people were found as people and of the outlined things as things."""

    photograph: str
    kept_back: bool
    false_specks: int
    false_wires: int
    dust: float
    wires: float
    people: tuple[int, int]
    things: tuple[int, int]


def run_scouted(folder: Path, say: Callable[[str], None], kept_back: bool | None = None) -> list[Scouted]:
    """Every photograph, or one half of them."""
    by_photograph: dict[str, list[FieldThing]] = {}
    for thing in field_things(folder, say):
        if kept_back in (None, thing.kept_back):
            by_photograph.setdefault(thing.photograph, []).append(thing)
    out = []
    for seed, (name, things) in enumerate(by_photograph.items()):
        picture = things[0].picture
        dusty, drawn = with_dust(picture, seed, SPECK_COUNT)
        wired, truth = with_wires(picture, seed)
        seen = np.zeros(truth.shape, bool)
        for find in find_wires(wired):
            if find.chosen:
                seen |= find.mask.full(*truth.shape[::-1]) > 0
        persons = [each.truth for each in things if each.name.startswith(PERSON_NAMES)]
        others = [each.truth for each in things if not each.name.startswith(PERSON_NAMES)]
        out.append(
            Scouted(
                name,
                things[0].kept_back,
                len(specks_in(picture)),
                sum(find.chosen for find in find_wires(picture)),
                float(np.mean(dust_hits(specks_in(dusty), drawn))),
                float((truth & seen).sum() / max(int(truth.sum()), 1)),
                _found(persons, [f.mask.full(*truth.shape[::-1]) > 0 for f in find_people(picture, also=False)]),
                _found(others, [f.mask.full(*truth.shape[::-1]) > 0 for f in find_things(picture)]),
            )
        )
        say(str(out[-1]))
    return out


def _found(wanted: list[Bools], found: list[Bools]) -> tuple[int, int]:
    """How many of those wanted are found, half and more of both, and how many there are."""
    return sum(any((each & truth).sum() > 0.5 * (each | truth).sum() for each in found) for truth in wanted), len(
        wanted
    )


def scouted_table(scouted: list[Scouted]) -> str:
    lines = [
        "| half | photographs | false specks | false wires | dust found | wires found | people | things |",
        "|---|---|---|---|---|---|---|---|",
    ]
    for kept in (False, True):
        some = [each for each in scouted if each.kept_back == kept]
        if not some:
            continue
        means = [np.mean([getattr(e, what) for e in some]) for what in ("false_specks", "false_wires", "dust", "wires")]
        both = [
            f"{sum(getattr(e, w)[0] for e in some)} of {sum(getattr(e, w)[1] for e in some)}"
            for w in ("people", "things")
        ]
        half = "kept back" if kept else "looked at"
        shares = " | ".join(f"{each:.2f}" for each in means)
        lines.append(f"| {half} | {len(some)} | {shares} | {both[0]} | {both[1]} |")
    return "\n".join(lines)
