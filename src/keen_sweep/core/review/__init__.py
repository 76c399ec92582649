"""Review: how good a fill is, with and without the truth to compare it to."""
