"""Scouts: each looks a picture over for one kind of distraction. One file a kind.

Modules and their public names
------------------------------
backdrop : find_backdrop
curves : Curve, Ridge, curves_in
follow : extend_curve, trace_wire
found : FindKind, Also, Found
harsh : harsh, shrunk
merging : merges
people : find_people, person_in, people_masks, silhouettes
poles : Side, poles_at
scouts : Search, Scout, search_for, needs_networks, search_description
specks : Speck, find_specks, specks_in
things : find_things
tiles : tiles_of, detect_around, detect_small
wires : CurveFeatures, find_wires, wires_in, judge, features_of
"""
