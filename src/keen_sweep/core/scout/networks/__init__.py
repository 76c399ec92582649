"""Trained networks that scouts look through: their weights, and what each one answers."""
