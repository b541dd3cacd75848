"""Route: the stops in order, what each result is kept under, and what doors ask for.

``keys`` names results without computing them; ``pipeline`` computes them; ``check`` says them as plain keys; ``build``
writes every file; ``choices`` turns the command's words into edits; ``demo`` the demo jobs.
"""
