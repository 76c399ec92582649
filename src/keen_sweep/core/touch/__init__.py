"""Touch-up: clone, heal and bring back the original, with a brush.

Modules and their public names
------------------------------
caution : Caution, cautions
dab : Brush, Source, Dab
paint : paint_patch, blend, heal
propose : propose
source : upright, source_matrix, transfer_source, source_box, copy_source
"""
