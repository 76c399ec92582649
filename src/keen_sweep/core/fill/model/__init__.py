"""Generative models: files, and what is done round them so that their output fits a photograph."""
