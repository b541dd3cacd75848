"""Geometry of triangle meshes, with no knowledge of the trade.

``mesh`` arrays and measures; ``tree`` a bounding-volume tree and rays; ``boolean`` solid operations (manifold3d);
``section`` plane cuts and level lines; ``plan`` and ``columns`` the part seen along the draw; ``refine`` splitting
long edges; ``rounds`` cylinders found in faces; ``frame`` axes; ``picture`` a small software renderer for the sheet
and for thumbnails.
"""
