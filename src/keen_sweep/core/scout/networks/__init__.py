"""Trained networks that scouts look through: their weights, and what each one answers.

Modules and their public names
------------------------------
detector : Seen, detect, drop_duplicates, overlap
graph : as_onnx
lines : wire_likelihood
silhouette : silhouette
trunk : features_of
weights : Weights, folder, use_folder, matches_hash, missing_weights, read_weights
"""
