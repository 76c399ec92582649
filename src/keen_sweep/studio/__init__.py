"""Use cases: one module for each step of the journey, and the queue of runs."""
