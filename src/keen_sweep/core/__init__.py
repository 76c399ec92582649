"""Rules and computation: numpy in, numpy out. Imports nothing of store, studio, api or cli.

Modules and their public names
------------------------------
attribute_docs : describe_fields
box : Box, whole, box_of
errors : KeenSweepError, BadPicture, BadMask, BadRequest, NotFound, Conflict, Outdated, BeyondScope,
    AlreadyThere, NotTheSamePlace, LibraryTrouble, Cancelled, NoWeights, ModelTrouble
network : End, Session, Interpreter
progress : no_progress, part_of
sentences : sentence, translate, counted_sentence
shared_property : shared_property
"""
