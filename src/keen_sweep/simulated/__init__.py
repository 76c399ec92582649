"""A generation service to try things out with: real fills, invented credits, and every fault at a switch."""

DEFAULT_PORT = 8421
