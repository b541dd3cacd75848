"""All findings of all stops, grouped by what causes them: one cause, one entry.

``claims`` says to which cause a finding belongs, ``group`` puts the causes together and ranks them, ``words`` what
each is called. What follows (sand that tears, hands that lift askew, a joint that frees not all) folds under its cause.
"""

VERSION = 5
