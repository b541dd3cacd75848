"""Digests of values, to know whether two results came from the same choices."""

import hashlib
from collections.abc import Iterable
from typing import Any

import msgspec
import numpy as np

_ENCODER = msgspec.json.Encoder(order="sorted")


def digest(*things: Any) -> str:
    """A 128-bit hexadecimal digest of arrays, plain values, tuples and msgspec structs.

    Arrays count with type, shape and bytes; everything else by its JSON form with sorted keys.
    TypeError for a thing that has no JSON form.
    """
    state = hashlib.blake2b(digest_size=16)
    _feed(state, things)
    return state.hexdigest()


def _feed(state: "hashlib.blake2b", things: Iterable[Any]) -> None:
    for thing in things:
        if isinstance(thing, np.ndarray):
            state.update(f"array {thing.dtype.str} {thing.shape};".encode())
            state.update(np.ascontiguousarray(thing).tobytes() if thing.size else b"")
        else:
            text = _ENCODER.encode(thing)
            state.update(f"json {len(text)};".encode())
            state.update(text)
