"""Meters and scales on a plain serial line: the reader, and stand-ins that ship with the program."""
