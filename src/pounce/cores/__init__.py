"""Cores: what the sand cannot make by itself. Hollows become cores with prints, boxes and checks.

``sky`` how much sky a face sees · ``hollow`` the least cut that finds a hollow, its rims and caps · ``prints`` seats
at its openings · ``drawn`` outlines drawn up with leaned sides · ``build`` one core whole · ``pieces`` long cores cut
and joined · ``box`` core boxes · ``mechanics`` lift, bearing, sag · ``findings`` · ``informational`` what a core
settles at Draw and Parting · ``parse`` cores given as words · ``stop`` the stop · ``values`` choices and results.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 16
