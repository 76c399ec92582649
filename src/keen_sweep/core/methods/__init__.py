"""Methods of the literature that several packages of core use, one file each.

Modules and their public names
------------------------------
fading : rim_only_mismatch
grain : smooth_known, grain_for
least_seams : least_seams
multigrid : Domain
network : answer_of
offsets : Shifts, repeats, shifts_of, blur, best_shifts, FlatShifts, flat_shifts_of
patchmatch : distance, patch_distance, measure, scatter, search
planes : Plane, Families, families_of, plane_of, map_points
seam : correction, membrane
segments : segments_of
setting : ContextFeatures, context_cost
sliced_distance : patches, sliced_distance, unit_directions
steepness : steepness
thin_plate : continuation
votes : confidence, weights_of, vote, best_over
"""
