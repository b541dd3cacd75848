"""Docs that are made from the program: the stops' chapters from the craft pages, and the schema of the job file."""

import json
from pathlib import Path

import msgspec

from pounce.cli.manual import manual, tables
from pounce.job.file import Content

ROOT = Path(__file__).parents[1]
CRAFT = ROOT / "src/pounce/bench/craft"
ORDER = ("part", "metal", "draw", "parting", "stock", "cores", "pattern")


def chapters(head: str) -> str:
    """The head, then every craft page one heading deeper."""
    pages = [(CRAFT / f"{name}.md").read_text(encoding="utf-8").strip() for name in ORDER]
    return "\n\n".join([head.strip(), *[f"#{page}" for page in pages]]) + "\n"


START, END = "<!-- made: calls and choices -->\n", "<!-- end -->"


def with_tables(text: str) -> str:
    """The text with the command's tables between their marks."""
    before, _, rest = text.partition(START)
    return before + START + tables() + "\n" + END + rest.partition(END)[2]


def main() -> None:
    """Writes docs/stops.md, docs/job.schema.json, the tables of docs/command.md and the manual page."""
    stops = ROOT / "docs/stops.md"
    head = stops.read_text(encoding="utf-8").split("\n## ")[0]
    stops.write_text(chapters(head), encoding="utf-8")
    command = ROOT / "docs/command.md"
    command.write_text(with_tables(command.read_text(encoding="utf-8")), encoding="utf-8")
    (ROOT / "docs/pounce.1").write_text(manual(), encoding="utf-8")
    schema = msgspec.json.schema(Content)
    (ROOT / "docs/job.schema.json").write_text(json.dumps(schema, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
