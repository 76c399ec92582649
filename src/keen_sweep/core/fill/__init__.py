"""Fills: one engine per file or folder behind one small protocol."""
