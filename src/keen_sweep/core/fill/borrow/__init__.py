"""Borrow: the true pixels of what a mask hides, from sister frames that show it."""
