"""Frames of one shoot: how they map onto each other, and what is carried from one to the next."""
