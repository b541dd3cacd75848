"""Foam: sheets, hot-wire cuts, stiffeners, sheets that are bent."""
