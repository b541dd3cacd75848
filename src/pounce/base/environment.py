"""Names of the environment that are read in more than one place."""

from typing import Final

# Further stops by the names of their records: ``module:NAME``, several parted by commas.
MORE: Final = "POUNCE_STOPS"
