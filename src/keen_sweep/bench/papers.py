"""The paper of the studio frames: outlines traced on the clean twins and checked by eye, in picture pixels."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.demo.shoot import clean_twin

PAPER_OUTLINES: dict[str, list[tuple[int, int]]] = {
    "ov-0521": [
        (477, 50),
        (477, 62),
        (480, 374),
        (481, 530),
        (482, 602),
        (479, 674),
        (471, 734),
        (457, 788),
        (398, 866),
        (295, 992),
        (292, 1000),
        (1179, 1000),
        (1176, 992),
        (1092, 866),
        (1044, 788),
        (1033, 734),
        (1027, 674),
        (1025, 602),
        (1026, 530),
        (1027, 374),
        (1031, 62),
        (1031, 50),
    ],
    "ov-0522": [
        (476, 88),
        (476, 100),
        (479, 400),
        (481, 550),
        (482, 622),
        (479, 694),
        (473, 748),
        (460, 802),
        (413, 874),
        (317, 994),
        (314, 1000),
        (1136, 1000),
        (1133, 994),
        (1062, 874),
        (1029, 802),
        (1021, 748),
        (1016, 694),
        (1015, 622),
        (1015, 550),
        (1017, 400),
        (1020, 100),
        (1020, 88),
    ],
    "ov-0523": [
        (475, 64),
        (475, 76),
        (478, 382),
        (479, 538),
        (480, 610),
        (476, 682),
        (469, 736),
        (451, 796),
        (390, 868),
        (281, 994),
        (278, 1000),
        (1153, 1000),
        (1150, 994),
        (1074, 868),
        (1032, 796),
        (1020, 736),
        (1015, 682),
        (1013, 610),
        (1014, 538),
        (1015, 382),
        (1018, 76),
        (1018, 64),
    ],
    "ov-0524": [
        (474, 72),
        (474, 84),
        (477, 390),
        (478, 540),
        (479, 612),
        (477, 684),
        (469, 744),
        (456, 798),
        (405, 870),
        (302, 996),
        (299, 1000),
        (1149, 1000),
        (1146, 996),
        (1070, 870),
        (1033, 798),
        (1024, 744),
        (1019, 684),
        (1018, 612),
        (1019, 540),
        (1020, 390),
        (1023, 84),
        (1023, 72),
    ],
    "ov-0525": [
        (476, 77),
        (476, 89),
        (479, 389),
        (481, 545),
        (482, 617),
        (479, 689),
        (473, 743),
        (461, 797),
        (415, 869),
        (315, 995),
        (312, 1000),
        (1150, 1000),
        (1147, 995),
        (1069, 869),
        (1035, 797),
        (1026, 743),
        (1022, 689),
        (1020, 617),
        (1021, 545),
        (1022, 389),
        (1025, 89),
        (1025, 77),
    ],
}


def paper_and_plant(frame: str) -> tuple[Bools, Bools]:
    """Where a studio frame's paper is, with the plant before it, and where the plant is: both (H, W)."""
    _, clean = clean_twin(frame)
    outline = np.zeros(clean.shape[:2], np.uint8)
    cv2.fillPoly(outline, [np.array(PAPER_OUTLINES[frame], np.int32)], 1)
    # Leaves are green and the pot is terracotta, which paper is not.
    calm = cv2.GaussianBlur(clean, (0, 0), 1.5).astype(np.int64)
    leaf = (calm[..., 1] > calm[..., 2] + 18) & (calm[..., 1] > calm[..., 0])
    coloured = (leaf | (calm[..., 0] > calm[..., 2] + 62)) & (outline > 0)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(coloured.astype(np.uint8), connectivity=8)
    plant = labels == 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
    return outline > 0, np.asarray(plant)
