"""Ground floor: units, faults, progress, digests and findings. Imports nothing of the other rooms."""
