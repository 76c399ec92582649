"""Rules and computation: numpy in, numpy out. Imports nothing of store, studio, api or cli."""
