"""The demo jobs of the walled-garden glasshouse: parts and jobs that ship, laid out in the user's own folder."""

from importlib import resources
from pathlib import Path

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.route.demos import BOOK, DEMOS, Demo, demo_book, demo_folder

__all__ = ["DEMOS", "Demo", "demo_folder", "job_file", "lay_out", "part_file"]


def part_file(demo: Demo) -> Path:
    """Where the demo's part lies in the program."""
    return Path(str(resources.files("pounce.route"))) / "demo" / demo.part


def job_file(demo: Demo) -> Path:
    """Where the demo's job lies in the program, as ``make demo-data`` saved it."""
    return part_file(demo).with_suffix(".pounce")


def lay_out(folder: Path) -> list[Path]:
    """Puts the demo parts and jobs into the folder where they are missing; returns the job files, in order.

    They and the season's logbook are copies of what the program ships: judging seven draws for the shelf's pictures
    first kept whoever asks for the demo waiting a quarter of a minute.
    """
    jobs = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for demo in DEMOS:
            for source in (part_file(demo), job_file(demo)):
                if not (folder / source.name).exists():
                    write_whole(folder / source.name, source.read_bytes())
            jobs.append(folder / job_file(demo).name)
        book = folder / demo_book().name
        if not book.exists():
            write_whole(book, BOOK.read_bytes())
    except OSError as error:
        raise UserFault(f"The demo folder cannot be made ({error.strerror}).", "Check your data folder.") from error
    return jobs
