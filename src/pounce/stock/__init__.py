"""The Stock stop: everything that is added to the part before it becomes a pattern.

``values`` choices and results · ``body`` the solid that the additions work on, with where each face came from ·
``machining`` faces moved out, bores left small · ``plugs`` holes filled, worn places levelled · ``taper`` draft by
moving vertices, ``wedge`` its fall-back · ``fillets`` inside corners and edges · ``letters`` text · ``bend`` camber
and finish · ``sizes`` contraction and the table of dimensions · ``weights`` mass, middle, inertia, inscribed spheres
· ``findings`` · ``work`` what lines are worked on · ``additions`` each kind of line · ``stop`` brings them together.
"""

VERSION = 29
