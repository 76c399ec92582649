"""Keen Sweep: take people, wires, reflections and other distractions out of photographs."""

__version__ = "0.2.0"
