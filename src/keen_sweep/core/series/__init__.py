"""Frames of one shoot: how they map onto each other, and what is carried from one to the next.

Modules and their public names
------------------------------
align : align
alignment : Alignment, sample_grid, map_by_homography, alignment_to_bytes, alignment_from_bytes
alike : most_similar
features : Matched, match_views, nearest, features_of, homography_of, plausible
flow : flow, consistent_flow, warp_by, lengths, local_similarity, texture_strength, by_cells,
    continue_cells
landing : Verdict, Landing, land
planes : planes_of, warp_view, unseen_pixels, motion_by
projected_view : reduce_pixels, project_view
similarity : Similarity, similarity_between
tones : Tones, tones_between
transferred_shape : transfer_shape, scale_at
view : View, view_of
"""
