"""The desktop: the only room that knows Qt or VTK.

Three processes: this window, a ``worker`` that runs the pipeline, and a ``view3d`` server that renders. The window
never computes geometry; it makes edits, asks, and paints what comes back. ``document`` is the job on the bench and
what is known of it; ``window`` puts the regions together; ``stops`` has one card a stop; ``look`` is the paper, ink
and brass; ``wire`` carries arrays between processes without copying them.
"""
