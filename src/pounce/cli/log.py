"""Sub-commands of the logbook: `pounce log ...`; what they do is in ``logwork``."""

from pathlib import Path
from typing import Annotated

import typer

log = typer.Typer(
    help="The logbook: what was poured, what came out, and what it teaches.",
    no_args_is_help=True,
    rich_markup_mode=None,  # square brackets in a form are its own
)

JsonOption = Annotated[bool, typer.Option("--json", help="Stable keys instead of words.")]
JobGiven = Annotated[Path, typer.Argument(metavar="JOB", help="A job file.")]
Entry = Annotated[str, typer.Argument(help="The entry's id, or how it begins; see `pounce log list`.")]
Castings = Annotated[
    list[str] | None, typer.Option("--casting", help="NUMBER:sound|flawed|scrap[:KG]; more than once.")
]
Sizes = Annotated[
    list[str] | None,
    typer.Option("--measure", help="CASTING:NAME=MM[/PATTERN][xREPEATS][@RESOLUTION]; more than once."),
]
Flaws = Annotated[
    list[str] | None, typer.Option("--defect", help="CASTING:SEEN[:WHERE[:WHEN[:X,Y,Z]]]; more than once.")
]
Fields = Annotated[list[str] | None, typer.Option("--set", help="Any other field, NAME=VALUE; more than once.")]
Photos = Annotated[list[Path] | None, typer.Option("--photo", help="A photo to keep with it; more than once.")]


@log.command()
def add(
    job: JobGiven,
    at: Annotated[str, typer.Option("--at", help="When it was poured, YYYY-MM-DDTHH:MM; now unless you say.")] = "",
    poured: Annotated[float | None, typer.Option("--poured", help="How hot it was as it was poured, C.")] = None,
    castings: Castings = None,
    measures: Sizes = None,
    caliper: Annotated[float | None, typer.Option("--caliper", help="What the caliper is good to, mm.")] = None,
    flaws: Flaws = None,
    fields: Fields = None,
    photos: Photos = None,
    json: JsonOption = False,
) -> None:
    """Keep a pour of a job, with all that its card and its meter know already."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.add(job, at, poured, castings, measures, caliper, flaws, fields, photos, json)


@log.command()
def change(
    which: Entry,
    castings: Castings = None,
    measures: Sizes = None,
    flaws: Flaws = None,
    fields: Fields = None,
    photos: Photos = None,
    leave_out: Annotated[
        list[str] | None, typer.Option("--leave-out", help="CASTING:NAME, a measure nothing is learned from.")
    ] = None,
    drop: Annotated[bool, typer.Option("--drop", help="Take the entry out.")] = False,
    json: JsonOption = False,
) -> None:
    """Complete an entry, correct it, or take it out."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.change(which, castings, measures, flaws, fields, photos, leave_out, drop, json)


@log.command(name="list")
def list_(
    words: Annotated[
        list[str] | None, typer.Argument(help="Words that stand in it: job, metal, year, outcome.")
    ] = None,
    metal: Annotated[str, typer.Option("--metal", help="Of this metal alone.")] = "",
    most: Annotated[int, typer.Option("--most", help="So many of them.", min=0)] = 0,
    json: JsonOption = False,
) -> None:
    """List pours, the newest first."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.list_(words, metal, most, json)


@log.command()
def show(which: Entry, json: JsonOption = False) -> None:
    """Show an entry whole."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.show(which, json)


@log.command()
def export(
    out: Annotated[Path, typer.Argument(help="The file: .json, .zip (tables in CSV, photos), or .csv (a list).")],
) -> None:
    """Write the whole logbook into one file."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.export(out)


@log.command(name="import")
def import_(given: Annotated[Path, typer.Argument(metavar="FILE", help="What `pounce log export` wrote.")]) -> None:
    """Take a logbook into yours; entries that are there already are the ones of the file."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.import_(given)


@log.command(name="learn")
def learn_(
    metal: Annotated[str, typer.Option("--metal", help="A casting metal; see `pounce metals`.")] = "aluminium-silicon",
    mould: Annotated[str, typer.Option("--mould", help="A mould medium; see `pounce moulds`.")] = "green-sand",
    claim: Annotated[float | None, typer.Option("--claim", help="A contraction somebody claims, %.")] = None,
    size: Annotated[
        str, typer.Option("--size", help="One size, PATTERN:CASTING@RESOLUTION in mm, and what it says alone.")
    ] = "",
    json: JsonOption = False,
) -> None:
    """Learn this bench's contraction and its other figures from what was measured."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.learn(metal, mould, claim, size, json)


@log.command()
def report(
    which: Annotated[str, typer.Argument(help="An entry's id, or a job file.")],
    out: Annotated[Path | None, typer.Option("-o", "--out", help="The part's story as one page, a PDF.")] = None,
    json: JsonOption = False,
) -> None:
    """Report sizes against ISO 8062, and defects with their causes."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.report(which, out, json)


@log.command()
def diagnose(
    job: JobGiven,
    flaw: Annotated[str, typer.Option("--defect", help="CASTING:SEEN[:WHERE[:WHEN[:X,Y,Z]]].")],
    fields: Annotated[list[str] | None, typer.Option("--set", help="What is known of the pour, NAME=VALUE.")] = None,
    json: JsonOption = False,
) -> None:
    """Say what may have made a defect, by what is seen and by the job's own figures."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.diagnose(job, flaw, fields, json)


@log.command()
def compare(first: Entry, second: Entry, json: JsonOption = False) -> None:
    """Lay two pours side by side: what differs."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.compare(first, second, json)


@log.command()
def pattern(
    name: Annotated[str, typer.Argument(help="The job's name.")],
    coat: Annotated[str, typer.Option("--coat", help="It was coated with this.")] = "",
    repair: Annotated[str, typer.Option("--repair", help="This was repaired.")] = "",
    json: JsonOption = False,
) -> None:
    """Say what was done to a pattern, and list it: coats, repairs, moulds made of it."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.pattern(name, coat, repair, json)


@log.command()
def recipe(
    name: Annotated[str, typer.Argument(help="What it is called; left out, all are listed.")] = "",
    part: Annotated[list[str] | None, typer.Option("--part", help="NAME=WEIGHT; more than once.")] = None,
    core: Annotated[bool, typer.Option("--core", help="A core mix; a moulding sand unless you say.")] = False,
    note: Annotated[str, typer.Option("--note", help="How it did.")] = "",
    json: JsonOption = False,
) -> None:
    """Keep a mix of core or moulding sand, and list them."""
    from pounce.cli import logwork  # noqa: PLC0415  its rooms take their time to load

    logwork.recipe(name, part, core, note, json)
