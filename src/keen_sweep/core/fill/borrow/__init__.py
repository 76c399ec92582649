"""Borrow: the true pixels of what a mask hides, from sister frames that show it.

Modules and their public names
------------------------------
choosing : ComparedViews, compare_views, still_there
engine : BorrowEngine
first : BorrowFirst
passing : passers_by, oddness_of
sister : Sister, surroundings_in
views : Warped, views_of
window : Window, window_of
"""
