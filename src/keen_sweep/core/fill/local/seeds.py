"""Seeds of what is random in a take, from the order's own."""


def start_seed(seed: int, part: int, start: int) -> int:
    """Seed of a start.

    Parameters
    ----------
    seed : int
        Seed of the fill.
    part : int
        Index of the part.
    start : int
        Index of the start.

    Returns
    -------
    int
        The seed.
    """
    return ((seed & 0xFFFFFFFF) * 65_537 + part) * 256 + start


def grain_seed(seed: int, part: int) -> int:
    """Seed of the grain of a closed part.

    Parameters
    ----------
    seed : int
        Seed of the take.
    part : int
        Index of the part.

    Returns
    -------
    int
        The seed.
    """
    return start_seed(seed, part, 255)
