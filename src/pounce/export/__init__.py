"""What leaves the program as files: 3MF and STL models, each read back and checked before it counts as written."""
