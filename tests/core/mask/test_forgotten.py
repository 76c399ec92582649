"""What was forgotten, on scenes made so that the answer is known: shadow, mirror image, remainder; and advice."""

import numpy as np
import pytest
from scipy import ndimage

from keen_sweep.core.box import whole
from keen_sweep.core.mask.advice import Advice, advice_on
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.mirror import mirror_of
from keen_sweep.core.mask.remainder import remainder_of
from keen_sweep.core.mask.shadow import shadow_of
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.mask.sun_projection import Sun
from tests.support.shadow_scenes import SIZE, Bools, Picture, figure, ground, in_sun, masked

pytestmark = pytest.mark.scenes


@pytest.mark.parametrize(("across", "down"), [(0.8, -0.2), (-1.2, 0.3), (0.4, -0.45)])
def test_a_hard_shadow_is_found(across: float, down: float) -> None:
    thing = figure(300, 250, 150)
    picture, (truth,) = in_sun([thing], across, down)
    found = shadow_of(picture, masked(thing))
    assert found is not None
    got = found.mask.full(SIZE[1], SIZE[0]) > 0
    assert (got & truth).sum() / (got | truth).sum() > 0.6
    assert not (got & thing).any()
    assert abs(found.sun.across - across) < 0.35
    assert abs(found.sun.down - down) < 0.2


def test_no_shadow_where_there_is_none() -> None:
    thing = figure(300, 250, 150)
    picture = ground()
    picture[thing] = (60, 80, 160)
    assert shadow_of(picture, masked(thing)) is None
    # A dark thing of another colour beside it is no shadow either.
    picture[200:260, 340:420] = (30, 70, 25)
    assert shadow_of(picture, masked(thing)) is None


def test_a_known_sun_is_kept_to() -> None:
    thing = figure(330, 260, 150)
    picture, _ = in_sun([thing], 0.6, -0.3)
    found = shadow_of(picture, masked(thing), Sun(0.6, -0.3))
    assert found is not None
    assert abs(found.sun.across - 0.6) < 0.35
    # With the sun on the other side nothing is found.
    assert shadow_of(picture, masked(thing), Sun(-1.6, 0.45)) is None


def test_a_mirror_image_in_water_is_found() -> None:
    random = np.random.default_rng(1)
    thing = figure(300, 200, 150)
    picture = ground().astype(np.float32)
    cloth = ndimage.gaussian_filter(random.normal(size=(*SIZE, 3)), (3, 3, 0)) * 400 + 120
    picture[thing] = cloth[thing]
    flipped = np.zeros_like(picture)
    flipped[206:356] = picture[50:200][::-1]
    image = np.zeros(SIZE, bool)
    image[206:356] = thing[50:200][::-1]
    picture[image] = 0.6 * flipped[image] + 0.4 * 110
    found = mirror_of(picture.clip(0, 255).astype(np.uint8), masked(thing))
    assert found is not None
    got = found[0].full(SIZE[1], SIZE[0]) > 0
    assert (got & image).sum() / (got | image).sum() > 0.8
    assert mirror_of(in_sun([thing], 0.8, -0.2)[0], masked(thing)) is None


def test_a_bit_left_outside_the_mask_is_found() -> None:
    picture = ground()
    thing = figure(300, 300, 200)
    picture[thing] = (190, 40, 40)
    marked = thing.copy()
    marked[:150] = False
    rest = remainder_of(picture, masked(marked))
    assert rest is not None
    got = rest.full(SIZE[1], SIZE[0]) > 0
    left = thing & ~marked
    assert (got & left).sum() / left.sum() > 0.6
    assert (got & ~thing).sum() < 0.2 * got.sum()
    assert remainder_of(picture, masked(ndimage.binary_dilation(thing, iterations=5))) is None


def advised(picture: Picture, shapes: list[Stroke], margin: float = 0.0, guard: Bools | None = None) -> list[Advice]:
    fit = Fit(margin=margin)
    free, mask = mask_of(shapes, whole(picture), fit), mask_of(shapes, whole(picture), fit, guard=guard)
    return advice_on(picture, mask, free, margin, whole(picture))


def advice(picture: Picture, shapes: list[Stroke], margin: float = 0.0, guard: Bools | None = None) -> list[str]:
    return [each.kind for each in advised(picture, shapes, margin, guard)]


def test_a_gap_between_two_strokes_is_pointed_out_and_closed_by_what_is_proposed() -> None:
    picture = ground()
    near = [Stroke(points=((40, 60), (140, 60)), size=16), Stroke(points=((40, 79), (140, 79)), size=16)]
    (found,) = [each for each in advised(picture, near) if each.kind == "gap"]
    assert found.margin is not None
    assert "gap" not in advice(picture, near, found.margin)
    apart = [Stroke(points=((40, 60), (140, 60)), size=16), Stroke(points=((40, 90), (140, 90)), size=16)]
    assert "gap" not in advice(picture, apart)


def test_advice_comes_only_where_it_applies() -> None:
    picture = ground()
    yy, xx = np.mgrid[0 : SIZE[0], 0 : SIZE[1]] + 0.5
    picture[np.hypot(yy - 200, xx - 300) <= 40] = (30, 40, 160)
    dot = Stroke(points=((300.0, 200.0),), size=80)
    assert advice(picture, [dot]) == ["tight"]
    assert advice(picture, [dot], 12) == []
    guard = np.zeros(SIZE, bool)
    guard[:, 320:] = True
    assert "guard" in advice(picture, [dot], 12, guard)
    assert advice(picture, [dot], guard=np.ones(SIZE, bool)) == ["guard"]
    (loose,) = advised(picture, [Stroke(points=((300.0, 200.0),), size=160)])
    assert loose.kind == "loose"
    assert loose.margin is not None
    assert advice(picture, [Stroke(points=((300.0, 200.0),), size=160)], loose.margin) == []
    two = [Stroke(points=((60.0, 60.0),), size=20), Stroke(points=((160.0, 60.0),), size=20)]
    assert advice(ground(), two) == ["areas"]
    many = [Stroke(points=((30.0 + 20 * k, 60.0),), size=4) for k in range(15)]
    (said,) = advised(ground(), many)
    assert said.text.startswith("15 separate areas")
    edge = [Stroke(points=((5.0, 60.0),), size=20)]
    assert advice(ground(), edge) == ["edge"]
    wide = np.repeat(ground(), 2, axis=1)
    long = [Stroke(points=((100.0, 60.0), (900.0, 60.0)), size=20)]
    mask = mask_of(long, whole(wide))
    assert [each.kind for each in advice_on(wide, mask, mask, 0, whole(wide))] == ["large"]
    assert (
        advice_on(wide, Mask(whole(wide), np.zeros(wide.shape[:2], np.uint8)), mask, 0, whole(wide))[0].kind == "guard"
    )
