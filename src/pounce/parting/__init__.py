"""Parting: where cope and drag come apart, and what each face then does.

``flat`` the best height of a flat joint; ``states`` clean, tight or locked for every face, cut at the joint; ``regions``
places a person would name; ``values`` choices and results; ``stop`` the stop itself.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 2
