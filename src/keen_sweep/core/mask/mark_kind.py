"""Kinds of marks."""

from __future__ import annotations

from typing import Literal

# A scribble lies over a thing, an outline goes round it, a click is a dab on it.
How = Literal["scribble", "outline", "click"]
