"""Draw: which way the pattern leaves the sand, and what every face sees along that way.

``reachability`` of every face, both ways along the draw; ``scan`` and ``candidates`` the best height of a flat
joint; ``ways`` directions worth trying, ``search`` the best few of them with their score; ``jointsurface`` the
natural joint as heights over the plan, ``relief`` how far it rises; ``live`` representatives for turning by hand;
``values`` choices and results; ``stop`` the stop itself. The parting decides which of the two ways counts for a
face.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 5
