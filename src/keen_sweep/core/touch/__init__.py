"""Touch-up: clone, heal and bring back the original, with a brush."""
