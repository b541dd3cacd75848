"""Draw: which way the pattern leaves the sand, and what every face sees along that way.

``judge`` reachability of every face, both ways along the draw; ``candidates`` quick looks along the own axes;
``values`` choices and results; ``stop`` the stop itself. The parting decides which of the two ways counts for a face.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 2
