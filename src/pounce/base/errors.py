"""What can go wrong that is not our bug."""


class UserFault(Exception):
    """A stop or a door cannot work with what it was given.

    Carries one plain sentence saying what is wrong and one saying what to try. Nothing of the job is
    lost when it is raised.
    """

    def __init__(self, what: str, try_this: str) -> None:
        super().__init__(what, try_this)
        self.what = what
        self.try_this = try_this

    def __str__(self) -> str:
        return f"{self.what} {self.try_this}"


class Cancelled(Exception):
    """The user asked for the running work to stop. Raised by a ``Progress``."""
