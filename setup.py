"""The one step that pyproject.toml cannot say: the handbook is built into the package before its files are gathered."""

import subprocess
import sys
from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

ROOT = Path(__file__).resolve().parent


class WithHandbook(build_py):
    """Builds the handbook, then the package. An editable install takes what ``make handbook`` left."""

    def run(self) -> None:
        """Builds both."""
        if not self.editable_mode:
            subprocess.run([sys.executable, str(ROOT / "scripts" / "make_handbook.py")], check=True)
        super().run()


setup(cmdclass={"build_py": WithHandbook})
