"""Freezing and filling: solids of a mould as cells of metal, sand, core, chill, sleeve and air, the heat that flows
between them, and the metal that runs through. Knows metal and sand, not what feeders and gates are for.
"""
