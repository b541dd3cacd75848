"""The finished pattern judged as it will be rammed: what the stops before found, and what became of it.

Proof hangs on everything that shapes the pattern and is no stop of its own: it says of the body of Cores what Draw and
Parting said of the bare part.
"""

VERSION = 6
