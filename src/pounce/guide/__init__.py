"""A guided first pattern: eight questions, each answered before the program says, with this part's own figures."""
