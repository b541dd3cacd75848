"""The reference tables: casting metals, mould media, ways of making a pattern, limits and their sources.

``tables`` reads ``data/*.toml`` into frozen values; ``contraction`` is the arithmetic of pattern sizes;
``method`` resolves a job's choices of metal, mould and pattern into the figures the stops use.
"""
