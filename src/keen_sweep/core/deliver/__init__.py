"""What goes out: JPEG without loss, files for the web, the layered file, the ledger, and how a file tells of it.

Modules and their public names
------------------------------
for_web : for_web
kept_blocks : jpeg_with_changes, changed_pixels, changed_units
layered_tiff : layered_tiff
layers : Layer, layer_of_change, deep_alpha, layer_png, rgba
ledger : Way, Entry, Ledger, source_type
ledger_pages : paragraph, as_csv, as_page
named : Facts, file_name, collisions
openraster : openraster
segments : segments, segment, with_segments_of
xmp : with_ledger, ledger_in, source_type_in
"""
