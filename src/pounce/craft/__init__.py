"""The craft: pages behind the stops, their drawings, and the words of the trade. Knows nothing of windows."""
