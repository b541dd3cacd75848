"""Pattern: the part made larger by the contraction, split at the joint, with dowels and a draw screw.

``dowels`` finds where holes may go; ``halves`` cuts them; ``boards`` follow board and false pattern; ``loose`` loose
pieces; ``values`` choices and results; ``stop`` the stop itself.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 7
