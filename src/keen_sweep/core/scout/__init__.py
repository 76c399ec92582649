"""Scouts: each looks a picture over for one kind of distraction. One file a kind."""
