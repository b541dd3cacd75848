"""Prints how the house stands: the longest function, the biggest classes, tests of a stop's name outside its record,
modules without a twin, the share of tests.
"""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
SRC, TESTS = ROOT / "src/pounce", ROOT / "tests"
# Rooms whose modules of more lines than this want a test module of their own name.
TWINNED, LINES = ("base", "solid", "metals", "stock", "cores", "route", "sheet", "export", "cli"), 60
# Where a stop's own name may stand: its room, its record, its view and card.
OWN = ("route/stops.py", "bench/stops/", "bench/cards/", "bench/shots.py")
STOP_TEST = re.compile(r"\bstop (==|!=) [\"']|\bstop in \([\"']|isinstance\([^)]*\w+Card\b")


def modules(folder: Path) -> list[Path]:
    """Python files of a folder."""
    return sorted(folder.rglob("*.py"))


def lines_of(path: Path) -> list[str]:
    """Lines that are not blank."""
    return [line for line in path.read_text(encoding="utf-8").splitlines() if line.strip()]


def functions() -> Iterator[tuple[int, str]]:
    """Length and name of every function."""
    for path in modules(SRC):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
                yield (node.end_lineno or node.lineno) - node.lineno + 1, f"{path.relative_to(SRC)}:{node.name}"


def classes() -> Iterator[tuple[int, str]]:
    """Methods and name of every class."""
    for path in modules(SRC):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ClassDef):
                yield sum(isinstance(one, ast.FunctionDef) for one in node.body), f"{path.relative_to(SRC)}:{node.name}"


def stop_tests() -> list[str]:
    """Lines that ask for a stop by name, or for a card by its class, where no stop should be known."""
    out = []
    for path in modules(SRC):
        name = str(path.relative_to(SRC))
        if not name.startswith(OWN):
            out += [
                f"{name}: {line.strip()}"
                for line in lines_of(path)
                if (STOP_TEST.search(line) and '"' in line) or ("Card)" in line and "isinstance" in line)
            ]
    return out


def without_twin() -> list[str]:
    """Modules that want a test module of their own name and have none."""
    have = {path.name for path in modules(TESTS)}
    return [
        str(path.relative_to(SRC))
        for room in TWINNED
        for path in modules(SRC / room)
        if len(lines_of(path)) > LINES and f"test_{path.name}" not in have
    ]


def main() -> None:
    """Prints it."""
    long, many = sorted(functions(), reverse=True), sorted(classes(), reverse=True)
    source, tests = (sum(len(lines_of(path)) for path in modules(folder)) for folder in (SRC, TESTS))
    asked, lone = stop_tests(), without_twin()
    print(f"longest function     {long[0][0]} lines, {long[0][1]}; {sum(size > 60 for size, _ in long)} over 60")
    print(f"biggest classes      {', '.join(f'{name} {size}' for size, name in many[:4])} methods")
    print(f"stop tests outside   {len(asked)}")
    for line in asked:
        print(f"                     {line}")
    print(f"without a twin       {len(lone)} modules")
    print(f"tests                {tests} of {source + tests} lines, {100.0 * tests / (source + tests):.0f} %")


if __name__ == "__main__":
    main()
