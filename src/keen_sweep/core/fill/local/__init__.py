"""The local engines: fills made of the picture itself, each connected part its own way.

Modules and their public names
------------------------------
canvas : Canvas
engine : ByPart
laying_out : close_all, put_closed, with_closed, clusters_of, stages_of, put_values
plan : Plan, plan_of, scene_of
pool : Finished, first_starts, more_starts, prepare_structure, start_weave, finish_weave,
    weave_at_once, mend_first, judge_first
seeds : start_seed, grain_seed
stages : fill_in_stages
"""
