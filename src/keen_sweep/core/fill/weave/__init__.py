"""Weave: multi-scale synthesis of a part from other places of the same picture.

Modules and their public names
------------------------------
assessment : judge_begun, judge_woven, filled_pixels
bars : Bar, bar_bridges, bars_of
bridges : Bridge, bridges_of, straight, share_inside, crosses
cells : Cell, cells_of
choice : Judged, judge_start, queue_of, difference
compositing : lay_offsets, copy_along
context_features : context_of
dissimilarity : dissimilarity
ends : End, ends_of
features : features_of, colours_of, halve_known
guide : Guide, bridged
halves : halve_planes, any_of_four, enlarged
incoherent : unlike_share, in_larger_pieces
kinds : Kind
lead_bridges : lead_bridges
lead_curve : straightened
lead_images : images_of, over
lead_stretches : Stretch, stretches_of, is_set, normals_of
lead_strips : Strips, strips_of
mending : mend_worst, worst_place
mismatch : Scale, Unlike, Seen, Judge
scene : Ground, Level, Scene, surroundings, make_scene, hole_window
start : layers_of, peel_inwards
synthesis : Begun, Woven, begin, finish, source_places, patch_fit, follow_guide, follow_strip,
    follow_bridges, lay, lay_along
"""
