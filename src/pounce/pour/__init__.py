"""Pour: what to melt, how hot, in what order, and when the mould may be opened."""

VERSION = 1
