"""Faults on purpose: what a photographer confirmed is there afterwards."""
