"""Weave: multi-scale synthesis of a part from other places of the same picture."""
