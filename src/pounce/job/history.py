"""Undo and redo over jobs. An edit is pushed only after it succeeded."""

from dataclasses import dataclass, field

from pounce.job.edits import Edit
from pounce.job.job import Job


@dataclass
class History:
    """The job now, those before it and those undone. ``saved`` is the job as it stands in its file."""

    job: Job
    before: list[tuple[str, Job]] = field(default_factory=list)
    undone: list[tuple[str, Job]] = field(default_factory=list)
    saved: Job | None = None

    def push(self, edit: Edit) -> bool:
        """Makes the edit's job the current one; False when it changes nothing."""
        if edit.job == self.job:
            return False
        self.before.append((edit.label, self.job))
        self.undone.clear()
        self.job = edit.job
        return True

    def undo(self) -> str | None:
        """Takes the last edit back and returns its label, or None when there is none."""
        if not self.before:
            return None
        label, job = self.before.pop()
        self.undone.append((label, self.job))
        self.job = job
        return label

    def redo(self) -> str | None:
        """Does the last undone edit again and returns its label, or None."""
        if not self.undone:
            return None
        label, job = self.undone.pop()
        self.before.append((label, self.job))
        self.job = job
        return label

    @property
    def dirty(self) -> bool:
        """True when the job differs from its file."""
        return self.job != self.saved
