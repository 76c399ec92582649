"""Pictures: what a file is, reading, writing, the pyramid for looking at them.

Modules and their public names
------------------------------
bounds : check_bounds, machine_memory, decompress, check_metadata_size
channels : split, join, in_depth_of, to_eight_bit
display : Screen, display_space, for_screen
exif : orientation_of, with_upright_orientation, from_tiff, describing_tags, directory_bytes
heif_avif_webp : read_webp, read_avif, read_heif
jpeg : read, encode
orientation : upright, as_stored
picture : Metadata, Picture
png : read, encode, encode_for_display
png_encoder : packed_png
profiles : to_xyz, wide_gamut, display_p3, srgb, cmyk_to_srgb, lab_to_romm
pyramid : halve, Pyramid
raw : is_raw, size, read
read : read_picture
sniff : sniff, header_size
tiff : read, encode
write : encode_picture, write_whole
xmp_packet : packet_of
"""
