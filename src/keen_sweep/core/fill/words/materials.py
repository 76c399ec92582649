"""Materials of the ground that fills are made of: their names, and how they look in a photograph.

Looks are means and spreads of what `looks` measures. They were set by hand from what such ground usually looks like,
with an eye on the photographs that scikit-image and scikit-learn ship and on the demo shoot; what a material does not
say is as everywhere.
"""

from __future__ import annotations

import re
from typing import Final

# One way in which a material can look: mean and spread of some measures, by name.
Looks = dict[str, tuple[float, float]]

# Lightness and colour (L*a*b*), fine and coarse relief (log2 of the standard deviation of lightness), how far all
# lines run one way (0 to 1), whether that is level (1) or upright (-1), and how far down the picture (0 to 1).
MEASURE_NAMES: Final = ("light", "red", "yellow", "fine", "coarse", "lined", "level", "down")
OVERALL_LOOK: Final[Looks] = {
    "light": (50, 28),
    "red": (1, 11),
    "yellow": (7, 14),
    "fine": (1.0, 1.7),
    "coarse": (0.8, 1.6),
    "lined": (0.4, 0.28),
    "level": (0.0, 0.45),
    "down": (0.5, 0.3),
}

MATERIAL_LOOKS: Final[dict[str, tuple[Looks, ...]]] = {
    "sky": (
        {
            "light": (74, 16),
            "red": (-2, 5),
            "yellow": (-16, 9),
            "fine": (-1.2, 0.9),
            "coarse": (-1.0, 1.2),
            "down": (0.2, 0.2),
        },
        {
            "light": (86, 9),
            "red": (0, 3),
            "yellow": (-3, 5),
            "fine": (-1.1, 0.8),
            "coarse": (-0.8, 1.2),
            "down": (0.18, 0.18),
        },
        {"light": (32, 14), "red": (4, 7), "yellow": (-23, 8), "fine": (-0.2, 0.9), "down": (0.3, 0.2)},
    ),
    "water": (
        {
            "light": (45, 16),
            "red": (-5, 5),
            "yellow": (-8, 8),
            "fine": (0.6, 0.9),
            "coarse": (0.8, 0.9),
            "lined": (0.65, 0.18),
            "level": (0.55, 0.25),
            "down": (0.68, 0.16),
        },
        {
            "light": (38, 14),
            "red": (-6, 4),
            "yellow": (3, 6),
            "fine": (0.2, 0.9),
            "coarse": (0.6, 1.0),
            "lined": (0.6, 0.2),
            "level": (0.5, 0.25),
            "down": (0.7, 0.16),
        },
    ),
    "foliage": (
        {
            "light": (19, 9),
            "red": (-9, 5),
            "yellow": (12, 7),
            "fine": (2.9, 0.7),
            "coarse": (2.2, 0.8),
            "down": (0.45, 0.25),
        },
        {
            "light": (34, 11),
            "red": (-19, 7),
            "yellow": (24, 9),
            "fine": (2.3, 0.9),
            "coarse": (2.5, 0.7),
            "down": (0.45, 0.25),
        },
        {"light": (12, 6), "red": (-6, 4), "yellow": (8, 5), "fine": (2.2, 0.8), "coarse": (2.3, 0.8)},
    ),
    "grass": (
        {
            "light": (42, 11),
            "red": (-16, 6),
            "yellow": (32, 9),
            "fine": (2.4, 0.7),
            "coarse": (1.5, 0.7),
            "down": (0.78, 0.18),
        },
        {"light": (52, 9), "red": (-12, 5), "yellow": (34, 8), "fine": (1.8, 0.9), "down": (0.78, 0.18)},
    ),
    "gravel": (
        {
            "light": (72, 12),
            "red": (1, 2.5),
            "yellow": (9, 5),
            "fine": (2.2, 0.7),
            "coarse": (1.4, 1.0),
            "lined": (0.26, 0.14),
            "down": (0.85, 0.14),
        },
        {
            "light": (52, 12),
            "red": (0, 2.5),
            "yellow": (4, 5),
            "fine": (2.7, 0.5),
            "coarse": (2.7, 0.7),
            "lined": (0.2, 0.1),
            "down": (0.8, 0.18),
        },
    ),
    "sand": (
        {
            "light": (72, 10),
            "red": (4, 4),
            "yellow": (20, 6),
            "fine": (0.4, 0.7),
            "coarse": (0.2, 0.9),
            "lined": (0.3, 0.2),
            "down": (0.82, 0.15),
        },
    ),
    "soil": (
        {
            "light": (24, 8),
            "red": (6, 4),
            "yellow": (12, 6),
            "fine": (1.9, 0.7),
            "lined": (0.25, 0.15),
            "down": (0.82, 0.15),
        },
    ),
    "brick": (
        {
            "light": (45, 10),
            "red": (16, 5),
            "yellow": (20, 6),
            "fine": (3.2, 0.6),
            "coarse": (2.2, 0.6),
            "level": (0.45, 0.25),
        },
        {
            "light": (48, 10),
            "red": (15, 5),
            "yellow": (19, 6),
            "fine": (2.3, 0.7),
            "coarse": (1.4, 0.8),
            "level": (0.4, 0.3),
            "down": (0.55, 0.2),
        },
        {
            "light": (66, 12),
            "red": (0, 3),
            "yellow": (5, 5),
            "fine": (3.0, 0.6),
            "coarse": (2.2, 0.6),
            "lined": (0.55, 0.15),
            "level": (0.5, 0.2),
        },
    ),
    "tiles": (
        {
            "light": (48, 9),
            "red": (16, 5),
            "yellow": (21, 6),
            "fine": (1.7, 0.6),
            "coarse": (1.4, 0.6),
            "level": (0.35, 0.25),
            "down": (0.14, 0.14),
        },
    ),
    "stone": (
        {
            "light": (66, 11),
            "red": (1, 2.5),
            "yellow": (8, 5),
            "fine": (1.2, 0.8),
            "coarse": (1.2, 0.8),
            "lined": (0.7, 0.2),
            "level": (0.55, 0.3),
            "down": (0.88, 0.12),
        },
        {
            "light": (55, 13),
            "red": (1, 3),
            "yellow": (8, 5),
            "fine": (1.8, 0.7),
            "coarse": (1.9, 0.6),
            "lined": (0.4, 0.2),
        },
    ),
    "wood": (
        {
            "light": (31, 11),
            "red": (12, 5),
            "yellow": (24, 8),
            "fine": (0.5, 0.9),
            "coarse": (0.2, 0.9),
            "lined": (0.88, 0.14),
        },
        {"light": (58, 13), "red": (11, 6), "yellow": (27, 8), "fine": (1.2, 1.0), "lined": (0.78, 0.18)},
    ),
    "asphalt": (
        {
            "light": (38, 11),
            "red": (0, 2.5),
            "yellow": (0, 4),
            "fine": (1.4, 0.6),
            "coarse": (0.2, 0.7),
            "lined": (0.2, 0.12),
            "down": (0.82, 0.15),
        },
    ),
    "plaster": (
        {
            "light": (60, 20),
            "red": (1, 3),
            "yellow": (9, 5),
            "fine": (-1.0, 0.7),
            "coarse": (-1.4, 0.9),
            "down": (0.45, 0.25),
        },
    ),
    "cloth": ({"fine": (-0.2, 0.8), "coarse": (1.2, 0.7), "lined": (0.7, 0.15)},),
    "snow": ({"light": (91, 5), "red": (0, 2), "yellow": (-2, 4), "fine": (-0.2, 1.0), "down": (0.78, 0.18)},),
}

MATERIAL_WORDS: Final[dict[str, str]] = {
    "sky": "sky|skies|cloud|clouds|heaven",
    "water": "water|river|lake|pond|sea|ocean|stream|pool|waves?",
    "foliage": "foliage|leaf|leaves|hedges?|bush|bushes|shrubs?|trees?|plants?|ivy|forest|woods|greenery|topiary",
    "grass": "grass|lawns?|turf|meadow",
    "gravel": "gravel|pebbles?|grit|shingle|chippings?|path",
    "sand": "sand|beach|dunes?",
    "soil": "soil|earth|mud|dirt|mulch",
    "brick": "bricks?|brickwork",
    "tiles": "tiles?|roof|roofing|slates?",
    "stone": "stones?|rocks?|paving|pavement|slabs?|flagstones?|cobbles?|concrete|masonry",
    "wood": "wood|wooden|timber|planks?|boards?|floorboards?|parquet|decking",
    "asphalt": "asphalt|tarmac|road|street|tar",
    "plaster": "plaster|stucco|render|paint|paper|backdrop|plain wall|painted wall|wallpaper",
    "cloth": "cloth|fabric|textile|curtains?|linen|canvas|carpet|blanket",
    "snow": "snow|ice",
}
_MATERIAL_PATTERNS: Final = {
    material: re.compile(rf"\b(?:{names})\b", re.I) for material, names in MATERIAL_WORDS.items()
}
# Words that name no material.
STOP_WORDS: Final = set(
    "a an the and or of with some more only just plain simple clean same like as in on at to by no not but area ground "
    "background surface texture empty dark light bright old new green blue grey gray red brown white yellow dry wet "
    "soft wall floor short mown fresh clear cloudy".split()
)


def named_in(words: str) -> tuple[list[str], list[str]]:
    """Materials that are named in words.

    Parameters
    ----------
    words : str
        The words.

    Returns
    -------
    tuple of 2 list of str
        The materials, and the words that name none.
    """
    found = [material for material, pattern in _MATERIAL_PATTERNS.items() if pattern.search(words)]
    rest = words
    for material in found:
        rest = _MATERIAL_PATTERNS[material].sub(" ", rest)
    unknown = [word for word in re.findall(r"[^\W\d_]+", rest.lower()) if word not in STOP_WORDS]
    return found, unknown
