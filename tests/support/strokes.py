"""Strokes as the API takes them."""

STROKE = {"kind": "stroke", "points": [[60, 50], [80, 50]], "size": 14}
