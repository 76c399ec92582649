"""Hints in words for engines that draw from the picture: what they mean, and where the picture shows it.

Modules and their public names
------------------------------
command : as_description, reply_to_order, hint_as_description
materials : named_in
recognise : Recognised, measures_of, recognise_materials
understood : Understood, interpret_hints, check_words
"""
