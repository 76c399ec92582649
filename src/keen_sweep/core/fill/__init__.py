"""Fills: one engine per file or folder behind one small protocol.

Modules and their public names
------------------------------
backdrop : BackdropEngine
bands : match_grain
closing : Closed, close_part
engine : Sources, Words, FillInput, Engine, NearSighted
engines : engine_for
excluded_objects : things_to_exclude, excludable
external_source : ExternalSource
fill_region : hole_of
first_look : FirstLook, first_look
flat : FlatEngine
half_hidden : HalfHidden, half_hidden
input_crop : crop_input, box_read, cropped
inventing : Verdict, needs_inventing, reduced
lay_again : lay_take_again
lead : LeadLine, mirrored_over, check_lead, with_grounds, simplified
method : Method, MadeBy, Quality
mix : mix_box, blend_takes
outliers : outliers_of
patch : PartReport, Patch, lay, lay_alpha, patch_to_bytes, patch_from_bytes
provenance : Provenance
reflection : ReflectionEngine
route : relief_round, Routed, route
separation : added_light, evidence_of, Separated, separate_reflection, without_soft_gradients
version_transform : transfer_take
"""
