"""The command's own account of itself, as tables for docs/command.md and as a manual page: both are made from the
sub-commands, and a test holds them.
"""

import textwrap
from typing import Any

import typer

from pounce.base.choice import Choice
from pounce.base.version import VERSION
from pounce.cli.choices import options
from pounce.cli.main import app

HELP_WIDE = 88


def commands() -> list[tuple[str, str, list[tuple[str, str]], bool]]:
    """Each sub-command: its call, what it does, its own options with their help, and whether it takes all the
    choices.
    """
    shared, out = set(options()), []
    for name, command in _flat(typer.main.get_command(app), ""):
        takes = shared <= {one.name for one in command.params}
        own = [one for one in command.params if one.name != "help" and not (takes and one.name in shared)]
        call = " ".join([name, *(_call(one) for one in own)])
        told = [(", ".join(one.opts), one.help or "") for one in own if one.param_type_name == "option"]
        out.append((call, (command.help or "").strip().split("\n")[0], told, takes))
    return out


def _flat(group: Any, before: str) -> list[tuple[str, Any]]:
    """Every sub-command with its whole name; those of a group in the group's place."""
    out: list[tuple[str, Any]] = []
    for name, command in group.commands.items():
        out += _flat(command, f"{before}{name} ") if hasattr(command, "commands") else [(f"{before}{name}", command)]
    return out


def _call(one: Any) -> str:
    """A parameter as it stands in a call."""
    if one.param_type_name == "argument":
        return str(one.name).upper() if one.required else f"[{str(one.name).upper()}]"
    word = one.opts[-1] if one.is_flag or len(one.opts) == 1 else one.opts[0]
    word = word if one.is_flag else f"{word} {str(one.name).upper()}"
    word += "..." if one.multiple else ""
    return word if one.required else f"[{word}]"


def tables() -> str:
    """The tables of docs/command.md."""
    calls = [(f"`pounce {call}`{' and choices' if takes else ''}", told) for call, told, _, takes in commands()]
    rows = [
        "| call | does |",
        "|---|---|",
        *(f"| {_cell(call)} | {_cell(told)} |" for call, told in [("`pounce`", "Open the desktop."), *calls]),
    ]
    rows += [
        "",
        "Choices, the same for every call that takes a part, each worked and, where it cannot be kept, said so:",
        "",
    ]
    rows += [
        "| choice | what |",
        "|---|---|",
        *(f"| `{option}` | {_cell(told)} |" for _, option, told in options().values()),
    ]
    return "\n".join(rows)


def words_of(option: str, table: tuple[Choice, ...]) -> str:
    """The words behind an option such as ``make``, as a table of docs/command.md."""
    rows = [(one.form, one.said) for one in table if one.word_of == option or not option]
    return "\n".join(["| word | what |", "|---|---|", *(f"| `{_cell(form)}` | {_cell(told)} |" for form, told in rows)])


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def manual() -> str:
    """The manual page, troff."""
    out = [
        f'.TH POUNCE 1 "" "pounce {VERSION}" "User commands"',
        ".SH NAME",
        "pounce \\- a pattern maker's bench",
        ".SH SYNOPSIS",
        ".B pounce",
        "[COMMAND] [OPTIONS]",
        ".SH DESCRIPTION",
        "A part in, a scaled, split, print-ready casting pattern out. Without a command the desktop opens. "
        "Lengths are mm.",
        ".SH COMMANDS",
    ]
    for call, told, own, takes in commands():
        out += [".TP", f".B {_troff(call)}{' [CHOICES]' if takes else ''}", _troff(told)]
        for option, text in own:
            out += [".RS", ".TP", f".B {_troff(option)}", _troff(text or "See above."), ".RE"]
    out.append(".SH CHOICES")
    for _, option, told in options().values():
        out += [".TP", f".B {_troff(option)}", _troff(told)]
    out += [
        ".SH EXIT STATUS",
        "0 done, whatever was found; 1 with \\-\\-strict where a finding says stop; 2 input or usage that "
        "cannot be used, in one sentence;",
        "70 a fault of the program itself, with the log's place; 130 cancelled.",
        ".SH ENVIRONMENT",
        ".TP",
        ".B POUNCE_BESIDE",
        "0 plans with one process, on one core; two are used where there is a second core and memory for it.",
        ".TP",
        ".B POUNCE_DEBUG",
        "Shows the traceback of a fault of the program at once.",
        ".TP",
        ".B POUNCE_CELLS",
        "Cells of the grid of Freeze at most, for a slow machine; a million unless it says.",
        ".TP",
        ".B POUNCE_LAPSE",
        "How many times as fast as the clock the desktop runs a pour, to try it with a simulated melt.",
        ".TP",
        ".B POUNCE_LOGBOOK",
        "Another logbook than your own, a file; the demo has one of its own.",
        ".TP",
        ".B POUNCE_RESULTS",
        "Another folder for results that are kept between starts; 0 keeps none.",
        ".TP",
        ".B POUNCE_STOPS",
        "Further stops of the route, module:NAME, several parted by commas.",
    ]
    return "\n".join(out) + "\n"


def _troff(text: str) -> str:
    """Text as troff takes it: hyphens that are minus signs, no line that begins with a dot."""
    safe = text.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{safe}" if safe.startswith((".", "'")) else safe


def help_page() -> str:
    """What `pounce --help` prints: it is kept as a file, so that no room has to be loaded to show it."""
    group = typer.main.get_command(app)
    rows = [(name, (one.help or "").strip().split("\n")[0]) for name, one in group.commands.items()]  # type: ignore[attr-defined]
    wide = max(len(name) for name, _ in rows)
    lines = [
        "Usage: pounce [COMMAND] [PART] [OPTIONS]",
        "",
        *textwrap.wrap(group.help or "", HELP_WIDE),
        "",
        "Commands (pounce alone opens the desktop):",
    ]
    for name, told in rows:
        gap = " " * (wide + 4)
        lines += textwrap.wrap(told, HELP_WIDE, initial_indent=f"  {name:<{wide}}  ", subsequent_indent=gap)
    lines += ["", "  pounce COMMAND --help   what a command takes", "  pounce --version        the version", ""]
    return "\n".join(lines)
