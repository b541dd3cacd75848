"""Features of a bare mesh: planes, bores and bosses, cones, balls, fillets and rounded edges, raised and sunk marks.

``find.features_of(mesh)`` gives them; ``values`` holds what they are, ``patches`` gathers flat triangles, ``facets``
ranks those that may stand for a round, ``shapes`` fits cylinders, cones, balls and rings to corners, ``rounds`` grows
them over the mesh, ``relief`` finds lettering.
"""
