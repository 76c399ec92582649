"""What all takes of an order share: parts and how each is filled, the surroundings of what is woven."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.closing import Closed
from keen_sweep.core.fill.hole import hole_of
from keen_sweep.core.fill.local.laying_out import close_all, clusters_of, with_closed
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.order import Order
from keen_sweep.core.fill.patch import PartReport
from keen_sweep.core.fill.route import route
from keen_sweep.core.fill.strays import strays_of
from keen_sweep.core.fill.things import avoided
from keen_sweep.core.fill.weave.scene import GUIDED, Scene, make_scene, surroundings
from keen_sweep.core.mask.parts import Part, parts_of
from keen_sweep.core.mask.rim import rim_of
from keen_sweep.core.mask.slivers import slivers_of

# Clusters longer than twice this are filled in stages when stages are asked for, pixels.
STAGE = 360


@dataclass
class Plan:
    """An order taken apart: below is the picture with what is closed continued; clusters are woven whole, each in a
    scene, staged ones section by section."""

    order: Order
    hole: Bools
    known: Bools
    reports: tuple[PartReport, ...]
    closed: list[Closed]
    below: Pixels
    clusters: list[Part]
    staged: list[Part]
    scenes: list[Scene]


def plan_of(order: Order, method: Method) -> Plan:
    """Take an order apart; method: auto, close or weave."""
    hole = hole_of(order)
    slivers = slivers_of(hole)
    known = ~(hole | slivers)
    routed = [route(order.below, part, known, method) for part in parts_of(hole.astype(np.uint8))]
    woven = np.zeros_like(hole)
    for each in routed:
        for bit in each.weave:
            woven[bit.box.slices] |= bit.inside
    closed = close_all(order.below, hole & ~woven, known)
    below = with_closed(order.below, closed)
    clusters = clusters_of(woven)
    long = [order.staged and max(cluster.box.width, cluster.box.height) >= 2 * STAGE for cluster in clusters]
    whole_clusters = [cluster for cluster, cut in zip(clusters, long, strict=True) if not cut]
    return Plan(
        order=order,
        hole=hole,
        known=known,
        reports=tuple(
            PartReport(method=each.way, why=each.why, box=each.part.box, area=each.part.area) for each in routed
        ),
        closed=closed,
        below=below,
        clusters=whole_clusters,
        staged=[cluster for cluster, cut in zip(clusters, long, strict=True) if cut],
        scenes=[scene_of(order, below, ~known, slivers, cluster) for cluster in whole_clusters],
    )


def scene_of(order: Order, below: Pixels, blank: Bools, slivers: Bools, cluster: Part) -> Scene:
    """The surroundings of a cluster; blank (H, W) is everything that is not picture yet, slivers what of it stays."""
    box = surroundings(cluster.box, whole(below))
    if order.draw_from is not None:
        box = box.union(box_of(order.draw_from))
    here = np.zeros((box.height, box.width), bool)
    here[cluster.box.relative_to(box).slices] = cluster.inside
    barred = np.zeros_like(here)
    for other in (order.guard, order.barred):
        if other is not None:
            barred |= other[box.slices]
    unknown = blank[box.slices] & ~here
    if order.things is not None and order.draw_from is None:
        barred |= avoided(order.things[box.slices], ~(here | unknown | barred))
    if order.draw_from is not None:
        barred |= ~order.draw_from[box.slices]
    foreign = slivers[box.slices] if order.foreign is None else slivers[box.slices] | order.foreign[box.slices]
    # What is left of the thing round it stays, being outside the mask; but it is nothing to go by, to meet or to copy.
    rim = rim_of(below[box.slices], here) & ~unknown
    at_home = order.draw_from is None
    strays = None
    if at_home and order.quality is Quality.FINE and cluster.radius > GUIDED:
        ground = ~(here | unknown | barred)
        strays = avoided(strays_of(below[box.slices], here, ground), ground)
    return make_scene(
        below[box.slices], box, here, unknown, barred & ~here, cluster.radius, foreign | rim, at_home, rim, strays
    )
