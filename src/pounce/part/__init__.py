"""Part: what is wanted. Reads a model, settles its unit, mends it, measures its health.

``reading`` any supported file into a ``Model``; ``formats`` one reader a format; ``step`` STEP in a process of its
own; ``mending`` closes and turns shells; ``model`` the values; ``walls`` the least wall; ``stop`` the stop itself.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 7
