"""Hints in words for engines that draw from the picture: what they mean, and where the picture shows it."""
