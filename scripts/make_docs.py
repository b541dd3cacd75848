"""Docs that are made from the program: the stops' chapters from the craft pages, and the schema of the job file."""

import json
import re
from collections.abc import Callable
from pathlib import Path

from pounce.bench.look.tokens import COLOUR
from pounce.cli.manual import help_page, manual, tables, words_of
from pounce.cores import choices as cores
from pounce.craft.drawings import DRAWINGS, drawing
from pounce.craft.page import PLAN, text_of
from pounce.pattern import choices as pattern
from pounce.route.schema import schema
from pounce.route.stops import ids

ROOT = Path(__file__).parents[1]


def chapters(head: str) -> str:
    """The head, then every craft page one heading deeper, with its drawings as files."""
    pages = [text_of(name).strip().replace("(drawing:", "(drawings/") for name in (*ids(), PLAN)]
    pages = [re.sub(r"\(drawings/([\w-]+)\)", r"(drawings/\1.svg)", page) for page in pages]
    return "\n\n".join([head.strip(), *[f"#{page}" for page in pages]]) + "\n"


def drawings(folder: Path) -> dict[Path, str]:
    """Every drawing of the craft pages, by its file."""
    loose = ('font-family="Source Sans Pro"', 'font-family="Source Sans Pro, Source Sans 3, sans-serif"')
    return {folder / f"{name}.svg": drawing(name, COLOUR).replace(*loose) for name in DRAWINGS}


END = "<!-- end -->"
MADE: dict[str, Callable[[], str]] = {
    "calls and choices": tables,
    "words of core": lambda: words_of("core", cores.TABLE),
    "words of a core": lambda: words_of("", cores.EACH),
    "words of make": lambda: words_of("make", pattern.TABLE),
}


def with_tables(text: str) -> str:
    """The text with the command's tables between their marks."""
    for name, make in MADE.items():
        start = f"<!-- made: {name} -->\n"
        before, _, rest = text.partition(start)
        text = before + start + make() + "\n" + END + rest.partition(END)[2]
    return text


def main() -> None:
    """Writes docs/stops.md, docs/job.schema.json, the tables of docs/command.md, the manual page and the page that
    `pounce --help` prints.
    """
    stops = ROOT / "docs/stops.md"
    head = stops.read_text(encoding="utf-8").split("\n## ")[0]
    stops.write_text(chapters(head), encoding="utf-8")
    for path, text in drawings(ROOT / "docs/drawings").items():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, encoding="utf-8")
    command = ROOT / "docs/command.md"
    command.write_text(with_tables(command.read_text(encoding="utf-8")), encoding="utf-8")
    (ROOT / "docs/pounce.1").write_text(manual(), encoding="utf-8")
    (ROOT / "src/pounce/cli/help.txt").write_text(help_page(), encoding="utf-8")
    (ROOT / "docs/job.schema.json").write_text(json.dumps(schema(), indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
