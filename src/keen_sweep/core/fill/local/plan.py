"""What all takes of a fill share: parts and how each is filled, the surroundings of what is woven."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.closing import Closed
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.excluded_objects import excludable
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.lead import with_grounds
from keen_sweep.core.fill.local.laying_out import close_all, clusters_of, with_closed
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.outliers import outliers_of
from keen_sweep.core.fill.patch import PartReport
from keen_sweep.core.fill.route import route
from keen_sweep.core.fill.weave.scene import GUIDED_RADIUS_PX, Scene, make_scene, surroundings
from keen_sweep.core.mask.parts import Part, parts_of
from keen_sweep.core.mask.rim import rim_of
from keen_sweep.core.mask.slivers import slivers_of

# Clusters longer than twice this are filled in stages when stages are requested, pixels.
STAGE_LENGTH_PX = 360


@dataclass
class Plan:
    """A fill divided into parts.

    Attributes
    ----------
    given : FillInput
        The fill's input.
    hole : (H, W) bool
        Pixels to fill.
    known : (H, W) bool
        Pixels that may be read.
    reports : tuple of PartReport
        How the parts are filled, and why.
    closed : list of Closed
        Parts that are closed.
    below : (H, W, 3) uint8 or uint16
        The picture with the closed parts.
    clusters : list of Part
        Clusters that are woven whole.
    staged : list of Part
        Clusters that are woven section by section.
    scenes : list of Scene
        A scene for each of `clusters`.
    """

    given: FillInput
    hole: Bools
    known: Bools
    reports: tuple[PartReport, ...]
    closed: list[Closed]
    below: Pixels
    clusters: list[Part]
    staged: list[Part]
    scenes: list[Scene]


def plan_of(given: FillInput, method: Method) -> Plan:
    """Divide a fill into parts.

    Parameters
    ----------
    given : FillInput
        The fill's input.
    method : Method
        auto, close or weave.

    Returns
    -------
    Plan
        The plan.
    """
    hole = hole_of(given)
    slivers = slivers_of(hole)
    known = ~(hole | slivers)
    routed = [route(given.below, part, known, method, bool(given.lead)) for part in parts_of(hole.astype(np.uint8))]
    woven = np.zeros_like(hole)
    for each in routed:
        for bit in each.weave:
            woven[bit.box.slices] |= bit.inside
    closed = close_all(given.below, hole & ~woven, known)
    below = with_closed(given.below, closed)
    clusters = clusters_of(woven)
    long = [given.staged and max(cluster.box.width, cluster.box.height) >= 2 * STAGE_LENGTH_PX for cluster in clusters]
    whole_clusters = [cluster for cluster, cut in zip(clusters, long, strict=True) if not cut]
    return Plan(
        given=given,
        hole=hole,
        known=known,
        reports=tuple(
            PartReport(method=each.way, why=each.why, box=each.part.box, area=each.part.area) for each in routed
        ),
        closed=closed,
        below=below,
        clusters=whole_clusters,
        staged=[cluster for cluster, cut in zip(clusters, long, strict=True) if cut],
        scenes=[scene_of(given, below, ~known, slivers, cluster) for cluster in whole_clusters],
    )


def scene_of(given: FillInput, below: Pixels, blank: Bools, slivers: Bools, cluster: Part) -> Scene:
    """Prepare the surroundings of a cluster.

    Parameters
    ----------
    given : FillInput
        The fill's input.
    below : (H, W, 3) uint8 or uint16
        The picture with the closed parts.
    blank : (H, W) bool
        Pixels that are not picture yet.
    slivers : (H, W) bool
        Narrow gaps of the mask.
    cluster : Part
        The cluster.

    Returns
    -------
    Scene
        The scene.
    """
    box = with_grounds(surroundings(cluster.box, whole(below)), given.lead, cluster.box, whole(below))
    if given.sources.draw_from is not None:
        box = box.union(box_of(given.sources.draw_from))
    inside = np.zeros((box.height, box.width), bool)
    inside[cluster.box.relative_to(box).slices] = cluster.inside
    barred = np.zeros_like(inside)
    for other in (given.guard, given.sources.barred):
        if other is not None:
            barred |= other[box.slices]
    unknown = blank[box.slices] & ~inside
    if given.sources.things is not None and given.sources.draw_from is None:
        barred |= excludable(given.sources.things[box.slices], ~(inside | unknown | barred))
    if given.sources.draw_from is not None:
        barred |= ~given.sources.draw_from[box.slices]
    foreign = (
        slivers[box.slices]
        if given.sources.foreign is None
        else slivers[box.slices] | given.sources.foreign[box.slices]
    )
    at_home = given.sources.draw_from is None
    strays = None
    with ThreadPoolExecutor(1) as beside:
        # What is left of the thing round it stays, being outside the mask; but it is nothing to go by, to meet or to
        # copy.
        found = beside.submit(rim_of, below[box.slices], inside)
        if at_home and given.quality is Quality.FINE and cluster.radius > GUIDED_RADIUS_PX:
            ground = ~(inside | unknown | barred)
            strays = excludable(outliers_of(below[box.slices], inside, ground), ground)
        rim = found.result() & ~unknown
    return make_scene(
        below[box.slices],
        box,
        inside,
        unknown,
        barred & ~inside,
        cluster.radius,
        foreign | rim,
        at_home,
        rim,
        strays,
        given.lead,
    )
