"""Fields on grids of cubes: solids as cells, heat that flows between them, what sets last, what fills last.

Knows neither metals nor moulds: what is hot, conducts and holds heat is told it.
"""
