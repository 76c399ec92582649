"""Lines and arrows that lead a fill, on a made set whose truth is known.

Two or three grounds, calm or textured, meet in an edge, a corner, an arc, a horizon, a bar or a kerb; a shape covers
where they do. A hand that is off by up to three pixels draws on what is covered. Every second picture is kept back:
nothing was tuned on it.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.bench.cases import package_picture
from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats, Labels
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.review.scores import gmsd, lswd

HEIGHT_PX, WIDTH_PX = 420, 560
# How far a drawn point may lie from the truth, pixels.
HAND_PX = 3.0
# Distance between two drawn points, pixels.
POINT_STEP_PX = 55
# How far drawn lines begin and end outside of the mask, pixels.
OVERLAP_PX = 30
# Textures of scikit-image, each in a colour of its own.
TEXTURE_TINTS: tuple[tuple[str, tuple[float, float, float]], ...] = (
    ("grass.png", (0.75, 1.0, 0.55)),
    ("gravel.png", (1.1, 1.0, 0.85)),
    ("brick.png", (1.2, 0.75, 0.6)),
)
# Calm grounds, as walls and skies are: their colours, and how much grain they have.
CALM_COLOURS = ((205, 190, 170), (110, 125, 150), (75, 90, 60))
CALM_GRAIN = 4.0
EDGE_KINDS = ("edge", "corner", "arc", "horizon", "bar", "kerb")
# Distance from an edge within which either ground may be copied, pixels.
EDGE_WIDTH_PX = 12
COVER_COLOUR = (255, 0, 255)


@dataclass(frozen=True)
class Drawn:
    """A made picture: what it shows, ground by ground, what is covered, and what a hand draws on it."""

    name: str
    calm: bool
    kept_back: bool
    truth: EightBit
    labels: Labels
    hole: Bools
    lead: tuple[LeadLine, ...]


@dataclass(frozen=True)
class Outcome:
    """Scores of a picture's first take without and with what was drawn, and how much longer the latter took."""

    case: Drawn
    gmsd: tuple[float, float]
    lswd: tuple[float, float]
    seconds_ratio: float
    wrong_share: float


def made_set() -> list[Drawn]:
    """Two pictures of each kind on calm and on textured grounds, and two in which an arrow tells grounds apart."""
    cases = [_made(kind, number, calm) for calm in (True, False) for kind in EDGE_KINDS for number in range(2)]
    return cases + [_with_arrow(number) for number in range(2)]


def _made(kind: str, number: int, calm: bool) -> Drawn:
    random = np.random.default_rng(10 * EDGE_KINDS.index(kind) + number + 1000 * calm)
    paths = [np.round(path + random.uniform(-8, 8, 2)) for path in _paths(kind)]
    labels = np.zeros((HEIGHT_PX, WIDTH_PX), np.int32)
    for path in paths:
        # What lies below a path, or within one that is closed by the picture's border.
        area = np.zeros(labels.shape, np.uint8)
        closed = np.vstack([path, [[path[-1, 0], HEIGHT_PX + 400], [path[0, 0], HEIGHT_PX + 400]]])
        cv2.fillPoly(area, [np.rint(closed).astype(np.int32)], 1)
        labels += area.astype(np.int32)
    middle = np.array([WIDTH_PX / 2, HEIGHT_PX / 2]) + random.uniform(-15, 15, 2)
    hole = _shape(middle, random)
    lead = tuple(LeadLine(points=tuple(map(tuple, _by_hand(path, hole, random).tolist()))) for path in paths)
    order = random.permutation(len(TEXTURE_TINTS))
    truth = _painted(labels, _calm(random) if calm else _textures(), order)
    return Drawn(f"{kind} {number + 1}, {'calm' if calm else 'textured'}", calm, number == 1, truth, labels, hole, lead)


def _paths(kind: str) -> list[Doubles]:
    """Where grounds meet, as lines from the left border to the right one."""
    x = np.linspace(-40, WIDTH_PX + 40, 200)
    slope = {"edge": 0.25, "kerb": -0.12}.get(kind, 0.0)
    y = HEIGHT_PX / 2 + slope * (x - WIDTH_PX / 2)
    if kind == "corner":
        y = HEIGHT_PX / 2 - 30 + 0.55 * np.abs(x - WIDTH_PX / 2)
    if kind == "arc":
        y = HEIGHT_PX / 2 - 25 + 320 - np.sqrt(np.maximum(320.0**2 - (x - WIDTH_PX / 2) ** 2, 0))
    path = np.stack([x, y], 1)
    beside = {"bar": 34.0, "kerb": 14.0}.get(kind)
    return [path] if beside is None else [path, path + np.array([0.0, beside])]


def _shape(middle: Doubles, random: np.random.Generator) -> Bools:
    """A lumpy shape round a place."""
    angles = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    radius = 62 + 9 * np.sin(3 * angles + random.uniform(0, 6)) + 5 * np.sin(5 * angles + random.uniform(0, 6))
    outline = middle + np.stack([radius * np.cos(angles), radius * np.sin(angles)], 1)
    hole = np.zeros((HEIGHT_PX, WIDTH_PX), np.uint8)
    cv2.fillPoly(hole, [np.rint(outline).astype(np.int32)], 1)
    return hole > 0


def _by_hand(path: Doubles, hole: Bools, random: np.random.Generator) -> Doubles:
    """The part of a path that is covered, with some more at both ends, as a hand draws it."""
    along = LeadLine(points=tuple(map(tuple, path.tolist()))).places(1.0)
    columns, rows = np.rint(along).astype(int).T
    seen = (rows >= 0) & (rows < HEIGHT_PX) & (columns >= 0) & (columns < WIDTH_PX)
    covered = np.flatnonzero(seen & hole[np.where(seen, rows, 0), np.where(seen, columns, 0)])
    first, last = max(covered[0] - OVERLAP_PX, 0), min(covered[-1] + OVERLAP_PX, len(along) - 1)
    at = np.linspace(first, last, max((last - first) // POINT_STEP_PX, 1) + 1).astype(int)
    # Whoever draws round a corner sets a point there.
    turn = int(np.abs(along[:, 0] - WIDTH_PX / 2).argmin())
    at = np.unique(np.append(at, turn))
    return np.asarray(along[at] + random.uniform(-HAND_PX, HAND_PX, (len(at), 2)) / np.sqrt(2))


def _textures() -> list[Floats]:
    out = []
    for file, tint in TEXTURE_TINTS:
        grey = cv2.cvtColor(package_picture(file), cv2.COLOR_RGB2GRAY)
        tile = np.tile(grey, (2, 2))[:HEIGHT_PX, :WIDTH_PX].astype(np.float32)
        out.append(tile[..., None] * np.array(tint, np.float32))
    return out


def _calm(random: np.random.Generator) -> list[Floats]:
    """Grounds that grow a little lighter towards one side, with grain."""
    out = []
    for colour in CALM_COLOURS:
        lighter = np.linspace(-12, 12, WIDTH_PX)[None, :, None] * random.choice((-1, 1))
        grain = random.normal(0, CALM_GRAIN, (HEIGHT_PX, WIDTH_PX, 1))
        out.append((np.array(colour) + lighter + grain).astype(np.float32))
    return out


def _painted(labels: Labels, grounds: list[Floats], order: NDArray[np.intp]) -> EightBit:
    """Grounds side by side, their edges as soft as a lens makes them."""
    out = np.zeros((HEIGHT_PX, WIDTH_PX, 3), np.float32)
    for label, which in enumerate(order):
        share = cv2.GaussianBlur((labels == label).astype(np.float32), (0, 0), 0.8)
        out += share[..., None] * grounds[which]
    return np.clip(np.rint(out), 0, 255).astype(np.uint8)


def _with_arrow(number: int) -> Drawn:
    """A horizon at which a thing of a third ground touches the covered shape, and an arrow that leads past it."""
    random = np.random.default_rng(100 + number)
    base = _made("horizon", number, False)
    row = int(np.argmax(base.labels[:, WIDTH_PX // 2] > 0))
    columns = np.nonzero(base.hole.any(axis=0))[0]
    labels = base.labels.copy()
    beside = (slice(row - 70, row - 4), slice(columns[-1] - 6, columns[-1] + 90))
    labels[beside][~base.hole[beside]] = 2
    start = (float(columns[0] - 60), float(row - 60))
    arrow = LeadLine(points=(start, (float(columns.mean()), float(row - 25))), brings="ground")
    truth = _painted(labels, _textures(), random.permutation(len(TEXTURE_TINTS)))
    return Drawn(f"arrow {number + 1}, textured", False, number == 1, truth, labels, base.hole, (*base.lead, arrow))


def measure(case: Drawn, seed: int = 0) -> Outcome:
    """Fill a picture without and with what was drawn on it."""
    unled, seconds, _ = filled(case, (), seed)
    led, led_seconds, patch = filled(case, case.lead, seed)
    return Outcome(
        case,
        (gmsd(unled, case.truth, case.hole), gmsd(led, case.truth, case.hole)),
        (lswd(unled, case.truth, case.hole), lswd(led, case.truth, case.hole)),
        led_seconds / seconds,
        wrong_share(case, patch),
    )


def filled(case: Drawn, lead: tuple[LeadLine, ...], seed: int) -> tuple[EightBit, float, Patch]:
    """A picture with its first of three takes, how long these took in seconds, and the take."""
    photo = case.truth.copy()
    photo[case.hole] = COVER_COLOUR
    mask = np.where(case.hole, 255, 0).astype(np.uint8)
    started = time.perf_counter()
    takes = list(engine_for(Method.AUTO).fill(FillInput(below=photo, mask=mask, takes=3, seed=seed, lead=lead)))
    seconds = time.perf_counter() - started
    best = min(takes, key=lambda take: (take.energy, take.seed))
    photo[best.box.slices][case.hole[best.box.slices]] = best.pixels[case.hole[best.box.slices]]
    return photo, seconds, best


def wrong_share(case: Drawn, patch: Patch) -> float:
    """Share of the pixels off the edges that were copied from another ground than the one that is covered there."""
    assert patch.offsets is not None
    edges = np.zeros(case.labels.shape, np.uint8)
    edges[:, 1:] |= case.labels[:, 1:] != case.labels[:, :-1]
    edges[1:] |= case.labels[1:] != case.labels[:-1]
    off_edges = case.hole & (cv2.distanceTransform((edges == 0).astype(np.uint8), cv2.DIST_L2, 5) > EDGE_WIDTH_PX)
    rows, columns = np.nonzero(off_edges)
    dx, dy = patch.offsets[rows - patch.box.y, columns - patch.box.x].T
    return float((case.labels[rows + dy, columns + dx] != case.labels[rows, columns]).mean())


def run_lead(tell: Callable[[str], None]) -> str:
    """A table of all pictures, and the means of both halves."""
    lines = [
        "| picture | gmsd without / with | lswd without / with | wrong ground | time, ratio |",
        "|---|---|---|---|---|",
    ]
    outcomes = []
    for case in made_set():
        outcomes.append(measure(case))
        lines.append(_row(case.name, outcomes[-1:]))
        tell(lines[-1])
    for ground, calm in (("calm", True), ("textured", False)):
        for half, kept_back in (("looked-at", False), ("kept-back", True)):
            those = [each for each in outcomes if (each.case.calm, each.case.kept_back) == (calm, kept_back)]
            lines.append(_row(f"mean, {ground}, {half}", those))
            tell(lines[-1])
    return "\n".join(lines)


def _row(name: str, outcomes: list[Outcome]) -> str:
    (unled, led), (far, near) = (
        np.mean([each.gmsd for each in outcomes], 0),
        np.mean([each.lswd for each in outcomes], 0),
    )
    wrong, ratio = np.mean([(each.wrong_share, each.seconds_ratio) for each in outcomes], axis=0)
    return f"| {name} | {unled:.3f} / {led:.3f} | {far:.2f} / {near:.2f} | {wrong:.3f} | {ratio:.2f} |"
