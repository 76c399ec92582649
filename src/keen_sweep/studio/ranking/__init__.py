"""In which order takes are offered, and what is learned from picks."""
