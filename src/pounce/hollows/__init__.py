"""Hollows: which of them cores make, decided before metal is added.

``stop.hollows_stop`` decides, ``find.hollows_in`` finds them on a body, ``values`` holds what was asked and decided.
A step of the pipeline without a card: what becomes of a hollow is said on the card of Cores. Stock casts what cores
make solid while it leans the walls; Cores makes the cores.
"""

VERSION = 5
