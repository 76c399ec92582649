"""Masks: 8-bit, full resolution, 255 where the picture is to be replaced."""
