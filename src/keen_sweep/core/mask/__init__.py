"""Masks: 8-bit, full resolution, 255 where the picture is to be replaced.

Modules and their public names
------------------------------
advice : Advice, advice_on, rim_remark, hidden_remark
area : Area, area_to_bytes, area_from_bytes
areas : areas_of, as_area
backdrop : Backdrop, backdrop_of
check : check_mask, read_mask
cling : cling, cling_further
colours : lab_of, Colours
cut : cut_out
detected_target : DetectedTarget, detected_target
edge : edge_profile, edge_within, margin_for
fit : Fit, fit_mask, grow_mask, feather_mask, fill_holes, drop_small_parts
halo : Haloed, with_halo
light_loss : light_of, lost_light
mask : Mask
mirror : mirror_of
outline : Outline
parts : Part, parts_of, sections, rejoined
pieces : pieces_of, mask_of_pieces
pixel_likelihood : pixel_likelihood, input_planes, surroundings_box
remainder : remainder_of
removable : Removable, removable_mask, fit_of
rim : rim_of
rings : rings_of
shadow : Shadow, ShadowEvidence, shadow_of, shadow_evidence, common_sun
shape : Placed, no_areas, reach_of, moved, cover_of, compose, mask_of, guard_of
slivers : slivers_of
stroke : Stroke
subject : subject_of
sun_projection : Sun, projected_outline, foot_of
working_area : Surroundings, surroundings_of
"""
