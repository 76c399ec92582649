"""Maintainer's scripts that render the pictures of the Orrin Vale garden guide; see docs/demo.md."""
