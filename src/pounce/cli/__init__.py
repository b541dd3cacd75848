"""The command ``pounce``: everything the desktop computes, from a script."""
