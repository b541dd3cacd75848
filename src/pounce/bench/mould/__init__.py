"""The mould on the bench: from above and in section, its pieces moved by hand."""
