"""What was asked of hollows and what was decided."""

import msgspec

Place = tuple[float, float, float]


class HollowsAsked(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``cores`` the places (mm, on the part) whose hollows become cores, ``every`` other one that locks or stands too
    slender as well, but not those at ``kept``, of which something else was said.
    """

    cores: tuple[Place, ...] = ()
    kept: tuple[Place, ...] = ()
    every: bool = False


class HollowsResult(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """``cored`` the places (mm, on the part) whose hollows cores make, ``kept`` those of which something else was
    said.
    """

    cored: tuple[Place, ...] = ()
    kept: tuple[Place, ...] = ()
