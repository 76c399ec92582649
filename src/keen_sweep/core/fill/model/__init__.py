"""Generative models: files, and what is done round them so that their output fits a photograph.

Modules and their public names
------------------------------
context : Context, context_box, context
diffusers_folder : folder_hash, DiffusersModel
engine : ModelEngine
facts : Facts, facts_path, read_facts, write_facts, facts_in_words
found_out : Finding, find_settings
native : fill_at_full_size
onnx_file : file_hash, OnnxModel
port : no_payment, Knobs, Wish, Painting, ModelFacts, Model
sections : Section, sections_of, sizes_of, ramp
"""
