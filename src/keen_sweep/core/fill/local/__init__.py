"""The local engines: fills made of the picture itself, each connected part its own way."""
