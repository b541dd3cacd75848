"""Plans: ways to make the whole pattern, each an ordinary list of edits with a reason and a figure, proved and costed.

``makes`` says what a master does about each cause, ``costs`` what it comes to in hours for some castings, ``words``
what a plan is called. The search that tries them stands in ``route/planner.py``, where the pipeline is.
"""

VERSION = 1
