"""Printed: the bed, the layers, hollow pieces, joints of pieces cut for the bed."""
