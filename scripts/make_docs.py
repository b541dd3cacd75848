"""Docs that are made from the program: the stops' chapters from the craft pages, and the schema of the job file."""

import json
from pathlib import Path

import msgspec

from pounce.job.file import Content

ROOT = Path(__file__).parents[1]
CRAFT = ROOT / "src/pounce/bench/craft"
ORDER = ("part", "metal", "draw", "parting", "stock", "cores", "pattern")


def chapters(head: str) -> str:
    """The head, then every craft page one heading deeper."""
    pages = [(CRAFT / f"{name}.md").read_text(encoding="utf-8").strip() for name in ORDER]
    return "\n\n".join([head.strip(), *[f"#{page}" for page in pages]]) + "\n"


def main() -> None:
    """Writes docs/stops.md and docs/job.schema.json."""
    stops = ROOT / "docs/stops.md"
    head = stops.read_text(encoding="utf-8").split("\n## ")[0]
    stops.write_text(chapters(head), encoding="utf-8")
    schema = msgspec.json.schema(Content)
    (ROOT / "docs/job.schema.json").write_text(json.dumps(schema, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
