"""Seeds of what is random in a take, from the order's own."""


def start_seed(seed: int, part: int, start: int) -> int:
    """The seed of a start of a woven part."""
    return ((seed & 0xFFFFFFFF) * 65_537 + part) * 256 + start


def grain_seed(seed: int, part: int) -> int:
    """The seed of the grain of a take's closed part."""
    return start_seed(seed, part, 255)
