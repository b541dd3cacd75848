"""A metal pattern cast from a printed master."""
