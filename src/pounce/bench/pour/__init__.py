"""The pour on the bench: steps by the clock, the curve of the melt, large figures for the shed."""
