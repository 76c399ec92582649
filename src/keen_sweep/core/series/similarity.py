"""A similarity: how a picture that was straightened, cropped or made smaller lies on the one it was made from."""

from __future__ import annotations

import cv2
import numpy as np
from pydantic import BaseModel, ConfigDict

from keen_sweep.core.arrays import Matrix, Numbers
from keen_sweep.core.errors import NotTheSamePlace
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.alignment import map_by_homography
from keen_sweep.core.series.features import RANDOM_SEED, match_views
from keen_sweep.core.series.view import View

# Distance of a feature from where the similarity puts it, pixels of the view.
FEATURE_TOLERANCE_PX = 2.0
# Share of all features that must agree; some are wrong.
MIN_AGREEING_SHARE = 0.6
# Share of the features consistent with a homography that must agree.
MIN_CONSISTENT_SHARE = 0.95
# Smaller motions are none, pixels of the picture.
MAX_STILL_MOTION_PX = 0.6


class Similarity(BaseModel):
    """Rotation, scale and shift from one picture to another: x, y goes to along * x - across * y + right,
    across * x + along * y + down. Pixel centres are whole numbers.

    Attributes
    ----------
    along : float
        Scale times cosine of the rotation.
    across : float
        Scale times sine of the rotation.
    right : float
        Shift to the right, pixels.
    down : float
        Shift downwards, pixels.
    """

    model_config = ConfigDict(frozen=True)

    along: float = 1.0
    across: float = 0.0
    right: float = 0.0
    down: float = 0.0

    @property
    def scale(self) -> float:
        """How many times larger things are in the other."""
        return float(np.hypot(self.along, self.across))

    @property
    def turn(self) -> float:
        """How far things are turned clockwise in the other, degrees."""
        return float(np.degrees(np.arctan2(self.across, self.along)))

    @property
    def matrix(self) -> Matrix:
        """The same for homogeneous points, (3, 3)."""
        return np.array([[self.along, -self.across, self.right], [self.across, self.along, self.down], [0, 0, 1.0]])

    def places(self, points: Numbers) -> Matrix:
        """Where points (n, 2) of the one are in the other."""
        return map_by_homography(self.matrix, np.asarray(points, np.float64).reshape(-1, 2))

    def then(self, after: Similarity) -> Similarity:
        """This one, and another one after it."""
        return _of(after.matrix @ self.matrix)

    @property
    def inverse(self) -> Similarity:
        """From the other to the one."""
        return _of(np.asarray(np.linalg.inv(self.matrix), np.float64))


IDENTITY_SIMILARITY = Similarity()


def similarity_between(one: View, other: View) -> Similarity:
    """Similarity between two versions of a picture; their tones may differ.

    Parameters
    ----------
    one : View
        View of the first version.
    other : View
        View of the second version.

    Returns
    -------
    Similarity
        The similarity most features agree on (RANSAC, refined by Levenberg-Marquardt, as in OpenCV's
        estimateAffinePartial2D); IDENTITY_SIMILARITY where nothing moved.

    Raises
    ------
    NotTheSamePlace
        The pictures differ, or one was warped.
    """
    found = match_views(one, other)
    if found is None:
        raise NotTheSamePlace(sentence("it does not show the same picture"))
    own_points, other_points = (
        map_by_homography(one.to_frame, found.here),
        map_by_homography(other.to_frame, found.there),
    )
    off = FEATURE_TOLERANCE_PX / min(one.scale, other.scale)
    cv2.setRNGSeed(RANDOM_SEED)
    matrix = cv2.estimateAffinePartial2D(
        own_points, other_points, method=cv2.RANSAC, ransacReprojThreshold=off, maxIters=5_000, confidence=0.9999
    )[0]
    if matrix is None:
        raise NotTheSamePlace(sentence("it does not show the same picture"))
    similarity = _of(np.asarray(matrix, np.float64))
    near = np.hypot(*(similarity.places(own_points) - other_points).T) < off
    right = np.hypot(*(map_by_homography(found.homography, found.here) - found.there).T) < FEATURE_TOLERANCE_PX
    if near.mean() < MIN_AGREEING_SHARE or near[right].mean() < MIN_CONSISTENT_SHARE:
        raise NotTheSamePlace(sentence("it was distorted: only rotation, cropping and scaling can be followed"))
    rim = np.array([[0, 0], [one.width, 0], [one.width, one.height], [0, one.height]], np.float64)
    same = (one.width, one.height) == (other.width, other.height)
    return (
        IDENTITY_SIMILARITY if same and np.abs(similarity.places(rim) - rim).max() < MAX_STILL_MOTION_PX else similarity
    )


def _of(matrix: Matrix) -> Similarity:
    return Similarity(along=matrix[0, 0], across=matrix[1, 0], right=matrix[0, 2], down=matrix[1, 2])
