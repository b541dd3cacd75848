"""The logbook: what was poured and what came out, what it teaches, what went wrong and why; a record that outlives the
program, and the judgement made of it.
"""

VERSION = 1
