"""Parting: where cope and drag come apart, what each face then does, and what becomes of the sand.

The joint: ``joint`` a plane or a height over the plan; ``choose`` which; ``line`` its closed loops on the part;
``surface`` as a solid to split along; ``cutdown`` cutting the drag down to it; ``insection`` and ``mould`` the mould
as a section and as blocks. What follows: ``states`` clean, tight or locked for every face; ``regions`` places a
person would name; ``columngrid`` the part as columns; ``trial`` the trial draw; ``sand`` what the sand must hold;
``loose`` loose pieces; ``cures`` cures that were tried. What is said: ``moulding``; of places at Draw
``route.places``. ``values`` choices and results; ``stop`` the stop itself.
"""

# Raised when the same choices give another result than before, so that kept results are made anew.
VERSION = 20
