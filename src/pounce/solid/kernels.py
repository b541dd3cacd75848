"""Compiled kernels (numba): where they are cached, and how they are warmed.

The cache lies beside the modules; where the install is read-only numba is told a folder of the user's.
"""

import os
import tempfile
from pathlib import Path

import platformdirs

os.environ.setdefault("OMP_WAIT_POLICY", "passive")
_here = Path(__file__).parent
if "NUMBA_CACHE_DIR" not in os.environ and not os.access(_here, os.W_OK):
    _cache = Path(platformdirs.user_cache_dir("pounce")) / "kernels"
    try:
        _cache.mkdir(parents=True, exist_ok=True)
    except OSError:
        _cache = Path(tempfile.gettempdir()) / "pounce-kernels"
    os.environ["NUMBA_CACHE_DIR"] = str(_cache)

import numba  # noqa: E402  (the cache folder must be known first)

numba.config.THREADING_LAYER = "workqueue"
njit = numba.njit
prange = numba.prange
