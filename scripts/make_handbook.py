"""Builds the handbook: the docs that a user reads as plain HTML, into the package, from where Help opens them offline.

What is made from the program (craft pages, drawings, words, the command) is made first, so that it cannot age.
"""

import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DOCS = ROOT / "docs"
SOURCE = ROOT / "build" / "handbook"
TARGET = ROOT / "src" / "pounce" / "handbook"
READ = ("first-casting.md", "stops.md", "command.md", "job-file.md", "job.schema.json")


def glossary() -> str:
    """The words of the trade as a page."""
    sys.path.insert(0, str(ROOT / "src"))
    from pounce.craft.glossary import words  # noqa: PLC0415  from this very tree, installed or not

    rows = [f"**{one.word[:1].upper()}{one.word[1:]}.** {one.says}" for one in words()]
    return (
        "\n\n".join(["# Words of the trade", "Wherever they stand on the bench, they are explained there.", *rows])
        + "\n"
    )


def main() -> None:
    """Gathers the pages and has them built."""
    shutil.rmtree(SOURCE, ignore_errors=True)
    SOURCE.mkdir(parents=True)
    for name in READ:
        shutil.copyfile(DOCS / name, SOURCE / name)
    for name in ("howto", "drawings", "screenshots"):
        shutil.copytree(DOCS / name, SOURCE / name)
    (SOURCE / "index.md").write_text((DOCS / "first-casting.md").read_text(encoding="utf-8"), encoding="utf-8")
    (SOURCE / "glossary.md").write_text(glossary(), encoding="utf-8")
    words = [sys.executable, "-m", "mkdocs", "build", "--quiet", "--strict", "--clean", "-f", str(ROOT / "mkdocs.yml")]
    subprocess.run(words, check=True)
    for left in ("sitemap.xml", "sitemap.xml.gz", "404.html"):
        (TARGET / left).unlink(missing_ok=True)
    print(f"{TARGET.relative_to(ROOT)}: {len(list(TARGET.rglob('*.html')))} pages")


if __name__ == "__main__":
    main()
