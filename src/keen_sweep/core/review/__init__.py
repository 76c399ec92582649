"""Review: how good a fill is, with and without the truth to compare it to.

Modules and their public names
------------------------------
grading : graded, brightened, shown_by_grading, graded_review
judge : review_and_rank
leftover : leftover
line : broken_line
mend : regrain, even_tone
odd : judge_half_size, odd_place
orphan : orphan
rank : terms_of
repeat : repeat
review : no_check, review, review_box, with_visibility, with_gradings
scores : lab, grey, swd, lswd, judged_size, gmsd, sharpness, seam, psnr, ssim, scores
snag : Mend, SnagKind, Grading, Snag, Laid, outlines_elsewhere, snag_at
softness : softness
taste : Terms, Choice, taste_of, largest_difference
tone : step_in_tone, border_steps, signed_depth
"""
