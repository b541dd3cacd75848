"""The sub-commands."""

import os
import signal
import sys
from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer
from rich.console import Console
from rich.table import Table

from pounce.base.errors import Cancelled, UserFault, tidy
from pounce.base.figures import figure
from pounce.base.files import write_whole
from pounce.base.log import log_file, note_fault
from pounce.base.units import area, degrees, length, mass, percent, sizes, volume
from pounce.base.version import VERSION
from pounce.cli import pouring
from pounce.cli.choices import Given as Words
from pounce.cli.choices import with_choices
from pounce.cli.doctor import doctor as examined
from pounce.cli.entry import desktop
from pounce.cli.log import log
from pounce.cli.says import SAYS, say_causes, say_failed, say_findings, say_nothing, say_plans, say_proof
from pounce.cli.words import Watch, say_json
from pounce.cli.work import run_line, worked
from pounce.craft.glossary import words
from pounce.job import file
from pounce.job.job import SUFFIX, Job
from pounce.metals import tables
from pounce.metals.method import resolve
from pounce.part.measures import Measures, holes_of, points_of
from pounce.rig.flasks import flask_of, own_flasks, write_flasks
from pounce.route.causes import causes_keys
from pounce.route.check import check as check_all
from pounce.route.check import says_stop
from pounce.route.opening import chosen, measured_job, open_any
from pounce.route.pipeline import Pipeline
from pounce.route.plan import plan_keys
from pounce.route.proof import proof_keys
from pounce.route.results import Stop, stop_keys
from pounce.route.stops import DRAW, PART, PROOF, stops

app = typer.Typer(
    add_completion=False,
    no_args_is_help=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,  # square brackets in a form are its own
    help="A pattern maker's bench: a part in, a scaled, split, print-ready casting pattern out.",
)

Given = Annotated[Path, typer.Argument(help="A model (STL, OBJ, PLY, OFF, 3MF, STEP) or a job file.")]
JsonOption = Annotated[bool, typer.Option("--json", help="Stable keys instead of words.")]
StrictOption = Annotated[bool, typer.Option("--strict", help="Exit 1 when a finding says stop.")]


@app.callback(invoke_without_command=True)
def plain(
    context: typer.Context, version: Annotated[bool, typer.Option("--version", help="Print the version.")] = False
) -> None:
    """Plain `pounce` opens the desktop."""
    if version:
        print(f"pounce {VERSION}")
        raise typer.Exit(0)
    if context.invoked_subcommand is None:
        desktop([])


def _job_file(out: Path) -> Path:
    """The job file of this name. UserFault for a folder."""
    if not out.name or out.is_dir():
        raise UserFault(f"'{out}' is a folder.", "Name the job file to write.")
    return out if out.suffix.lower() == SUFFIX else out.with_name(out.name + SUFFIX)


@app.command()
@with_choices
def new(
    part: Given,
    words: Words,
    out: Annotated[Path, typer.Option("-o", "--out", help="The job file to write.")],
    stl: Annotated[bool, typer.Option("--stl", help="Write STL beside the 3MF when it is built.")] = False,
) -> None:
    """Make a job from a model."""
    from pounce.route.paper import preview_png  # noqa: PLC0415  a room is loaded when it works

    results, model = worked(part, words | _stl(stl), False)
    target = _job_file(out)
    picture = preview_png(results.need(PART), results.need(DRAW).direction)
    file.save(target, results.job, model, picture)
    print(target)


def _stl(wanted: bool) -> Words:
    return {"stl": "yes"} if wanted else {}


@app.command()
def measure(
    out: Annotated[Path, typer.Option("-o", "--out", help="The job file to write.")],
    size: Annotated[
        str, typer.Option("--size", help="LONGxWIDExHIGH over all, mm; for round and tube DIAMETERxDIAMETERxHIGH.")
    ],
    shape: Annotated[str, typer.Option("--shape", help="block, round, tube, tray, angle or outline.")] = "block",
    wall: Annotated[float, typer.Option("--wall", help="Wall, mm; left out it is worked out from the weight.")] = 0.0,
    hole: Annotated[
        list[str] | None, typer.Option("--hole", help="X,Y,WIDTH from the middle; may be given more than once.")
    ] = None,
    outline: Annotated[str, typer.Option("--outline", help="Corners of a sketch: 'X,Y X,Y X,Y'.")] = "",
    weight: Annotated[float, typer.Option("--weight", help="On the scale, kg.")] = 0.0,
    of_metal: Annotated[str | None, typer.Option("--of", help="What the part that was weighed is made of.")] = None,
    name: Annotated[str, typer.Option("--name", help="What it is called.")] = "Measured part",
    metal: Annotated[str | None, typer.Option("--metal", help="A casting metal; see `pounce metals`.")] = None,
    mould: Annotated[str | None, typer.Option("--mould", help="A mould medium; see `pounce moulds`.")] = None,
    pattern: Annotated[
        str | None, typer.Option("--pattern", help="A way of making; see `pounce patterns`.")
    ] = "original-part",
) -> None:
    """Make a job of a part that has no model, from its measures and its weight."""
    from pounce.route.paper import preview_png  # noqa: PLC0415  a room is loaded when it works

    try:
        long, wide, high = (figure(side) for side in size.split("x"))
        asked = msgspec.convert(
            {
                "shape": shape,
                "name": name,
                "long_mm": long,
                "wide_mm": wide,
                "high_mm": high,
                "wall_mm": wall,
                "weight_kg": weight,
                "holes": holes_of(" ".join(hole or [])),
                "points": points_of(outline),
            },
            Measures,
        )
    except (ValueError, msgspec.ValidationError):
        raise UserFault(
            f"'{shape}' of '{size}' cannot be built.", "Give --size LONGxWIDExHIGH in mm and one of the shapes."
        ) from None
    method = chosen(Job(), {"metal": metal, "mould": mould, "pattern": pattern}).method
    job, model = measured_job(asked, method, of_metal)
    results = Pipeline().run(job, model)
    target = _job_file(out)
    file.save(target, job, model, preview_png(results.need(PART), results.need(DRAW).direction))
    for finding in PART.findings(results):
        print(finding.words(), file=sys.stderr)
    print(target)


@app.command()
@with_choices
def check(part: Given, words: Words, json: JsonOption = False, strict: StrictOption = False) -> None:
    """Judge draft, undercuts, parting and walls."""
    results, model = worked(part, words, json)
    content = check_all(results, model)
    if json:
        say_json(content)
    else:
        _say_check(content)
    if strict and says_stop(content):
        raise typer.Exit(1)


def _say_check(content: dict[str, Any]) -> None:
    part, faces, parting, draw = content["part"], content["faces"], content["parting"], content["draw"]
    console = Console(highlight=False)
    console.print(f"[bold]{part['name']}[/bold]  {sizes(tuple(part['size_mm']))}, {part['triangles']:,} triangles")
    weight = f"{volume(part['volume_mm3'])}, {mass(part['mass_kg'])}" if part["closed"] else "open shell"
    console.print(f"  {weight}; unit {part['unit']} ({part['unit_from']})")
    console.print(
        f"  pattern {sizes(tuple(content['pattern_size_mm']))}, contraction {percent(content['contraction_percent'])}"
    )
    along = ", ".join(f"{value:g}" for value in draw["direction"])
    console.print(f"  draws along ({along}), {parting['kind']} at {length(parting['height_mm'])}")
    console.print(
        f"  clean {area(faces['clean_mm2'])}, tight {area(faces['tight_mm2'])}, locked {area(faces['locked_mm2'])}; "
        f"asked {degrees(faces['required_draft_deg'])}, least {degrees(faces['least_draft_deg'])}"
    )
    if content["proof"] is not None and content["proof"]["changed"]:
        say_proof(console, content)
    say_causes(console, content)
    say_failed(console, content)
    notes = sum(finding["severity"] == "note" and not finding["cured_by"] for finding in content["findings"])
    if notes:
        console.print(f"  {notes} more that is good to know: --json has them all", soft_wrap=True)


def _sub_command(stop: Stop[object]) -> None:
    """The sub-command of a stop: what it says, or its keys."""

    def run(part: Given, words: Words, json: JsonOption = False) -> None:
        results, _ = worked(part, words, json)
        content: dict[str, Any] = stop_keys(stop, results)
        if json:
            say_json(content)
            return
        console = Console(highlight=False)
        SAYS.get(stop.id, say_nothing)(console, content)
        say_findings(console, content)

    run.__doc__ = stop.help
    app.command(name=stop.command or stop.id)(with_choices(run))


for _stop in stops():
    if _stop.help:
        _sub_command(_stop)


@app.command()
def rule(
    out: Annotated[Path, typer.Option("-o", "--out", help="The PDF to write.")],
    metal: Annotated[list[str], typer.Option("--metal", help="A casting metal; may be given more than once.")],
    master: Annotated[
        str | None, typer.Option("--master", help="The metal of a pattern that is cast itself: both contractions.")
    ] = None,
    paper: Annotated[str, typer.Option("--paper", help="A4, A3 or letter.")] = "A4",
) -> None:
    """Draw contraction rules at 1:1 for any metal, or for a pair of metals."""
    from pounce.route.paper import rule_for  # noqa: PLC0415  a room is loaded when it works

    data = rule_for(metal, master, paper)
    try:
        write_whole(out, data)
    except OSError as error:
        raise UserFault(f"'{out.name}' could not be written ({error.strerror}).", "Choose another folder.") from error
    print(out)


@app.command()
@with_choices
def plan(
    part: Given,
    words: Words,
    take: Annotated[int, typer.Option("--take", help="Take this plan, 1 the best, as a job; with -o.", min=0)] = 0,
    out: Annotated[Path | None, typer.Option("-o", "--out", help="The job file to write.")] = None,
    json: JsonOption = False,
) -> None:
    """Plan the whole: draw, joint, cores, fillings and draft, proved and held beside their rivals."""
    from pounce.route.planner import Planner  # noqa: PLC0415  a room is loaded when it works

    with Watch(json) as watch:
        job, model = open_any(part, watch.progress)
        job = chosen(job, words)
        plans = Planner(job, model).plans(watch.progress)
    if take > len(plans):
        raise UserFault(f"There is no plan {take}: {len(plans)} came out.", "Take one of them.")
    target = None if out is None else _job_file(out)
    if target is not None:
        file.save(target, plans[max(take, 1) - 1].job, model, None)
    if json:
        say_json(plan_keys(model.name, resolve(job.method), plans))
    else:
        say_plans(Console(highlight=False), plan_keys(model.name, resolve(job.method), plans))
    if target is not None:
        print(target, file=sys.stderr if json else sys.stdout)


@app.command()
@with_choices
def proof(part: Given, words: Words, json: JsonOption = False, strict: StrictOption = False) -> None:
    """Judge the finished pattern as it will be rammed: what is cured, what is open, what is new."""
    results, _ = worked(part, words, json)
    results.need(PROOF)
    content = {"schema": "pounce.proof/1", "proof": proof_keys(results), "causes": causes_keys(results)}
    if json:
        say_json(content)
    else:
        console = Console(highlight=False)
        say_proof(console, content)
        say_causes(console, content)
    if strict and results.proof is not None and results.proof.verdict == "locks":
        raise typer.Exit(1)


@app.command()
@with_choices
def build(
    part: Given,
    words: Words,
    out: Annotated[Path, typer.Option("--out", help="The folder to write into.")],
    stl: Annotated[bool, typer.Option("--stl", help="Write STL beside the 3MF.")] = False,
    planned: Annotated[bool, typer.Option("--plan", help="Plan it first, and build the best plan.")] = False,
    json: JsonOption = False,
    strict: StrictOption = False,
) -> None:
    """Write every file a maker needs, and manifest.json."""
    from pounce.route.build import build as build_all  # noqa: PLC0415  a room is loaded when it works
    from pounce.route.planner import Planner  # noqa: PLC0415  a room is loaded when it works

    with Watch(json) as watch:
        job, model = open_any(part, watch.progress)
        job = chosen(job, words | _stl(stl))
        if planned:
            job = Planner(job, model).plans(watch.progress)[0].job
        results = run_line(job, model, words, watch)
        manifest = build_all(results, model, out, watch.progress)
    if json:
        say_json(manifest)
    else:
        for entry in manifest["files"]:
            size = f"  {sizes(tuple(entry['size_mm']))}" if "size_mm" in entry else ""
            print(f"{out / entry['file']}{size}")
        say_failed(Console(highlight=False), manifest)
    if strict and says_stop(manifest):
        raise typer.Exit(1)


@app.command()
@with_choices
def sheet(
    part: Given,
    words: Words,
    out: Annotated[Path, typer.Option("-o", "--out", help="The PDF to write.")],
    inches: Annotated[bool, typer.Option("--inches", help="Figures in inches.")] = False,
) -> None:
    """Draw the shop sheet."""
    from pounce.route.paper import sheet_bytes  # noqa: PLC0415  a room is loaded when it works

    results, model = worked(part, words, False)
    data = sheet_bytes(results, model, "in" if inches else "mm")
    try:
        write_whole(out, data)
    except OSError as error:
        raise UserFault(f"'{out.name}' could not be written ({error.strerror}).", "Choose another folder.") from error
    print(out)


pouring.register(app)
app.add_typer(log, name="log")


@app.command()
def metals(json: JsonOption = False) -> None:
    """List the casting metals with their figures and sources."""
    _list(
        "metals",
        tables.metals(),
        json,
        ("contraction", "density", "liquidus", "solidus", "pouring", "freezing_shrinkage", "least_wall"),
    )


@app.command()
def moulds(json: JsonOption = False) -> None:
    """List the mould media."""
    _list("moulds", tables.moulds(), json, ("density", "grain"))


@app.command()
def patterns(json: JsonOption = False) -> None:
    """List the ways of making a pattern."""
    _list("patterns", tables.pattern_kinds(), json, ("draft",))


@app.command()
def flasks(
    add: Annotated[
        list[str] | None,
        typer.Option(
            "--add",
            help="ID=LONGxWIDExCOPExDRAG, mm inside, with :KG behind it; one diameter for a round one, :snap for one "
            "that opens.",
        ),
    ] = None,
    remove: Annotated[list[str] | None, typer.Option("--remove", help="The id of one you have no more.")] = None,
    json: JsonOption = False,
) -> None:
    """List your own flasks, add and take away; a sample set stands in until there are any."""
    own = own_flasks()
    if add or remove:
        gone = {*(remove or ()), *(word.split("=")[0] for word in add or ())}
        unknown = set(remove or ()) - {one.id for one in own}
        if unknown:
            raise UserFault(f"There is no flask '{min(unknown)}' among yours.", "List them with: pounce flasks")
        own = (*(one for one in own if one.id not in gone), *(flask_of(word) for word in add or ()))
        write_flasks(own)
    if json:
        say_json({"schema": "pounce.flasks/1", "flasks": own})
        return
    table = Table(box=None, pad_edge=False)
    for name in ("id", "name", "shape", "inside", "cope", "drag", "kg"):
        table.add_column(name, justify="left" if name in ("id", "name", "shape") else "right", no_wrap=True)
    for one in own:
        inside = f"{one.long_mm:g} x {one.wide_mm:g}" if one.shape == "box" else f"{one.long_mm:g}"
        shape = f"{one.shape}, snap" if one.snap else one.shape
        table.add_row(one.id, one.name, shape, inside, f"{one.cope_mm:g}", f"{one.drag_mm:g}", f"{one.kg:g}")
    Console(highlight=False).print(table)


def _list(name: str, things: Any, json: bool, columns: tuple[str, ...]) -> None:
    if json:
        say_json(
            {"schema": f"pounce.{name}/1", name: things, "sources": tables.sources(), "cautions": tables.cautions()}
        )
        return
    table = Table(box=None, pad_edge=False)
    table.add_column("id", no_wrap=True)
    used: dict[str, None] = {}
    for column in columns:
        table.add_column(column.replace("_", " "), justify="right")
    for key, thing in things.items():
        cells = []
        for column in columns:
            figure = getattr(thing, column)
            spread = f" ({figure.low:g}-{figure.high:g})" if figure.high > figure.low else ""
            cells.append(f"{figure.value:g}{spread} {figure.unit}")
            used[figure.source] = None
        table.add_row(key, *cells)
    console = Console(highlight=False, width=None if sys.stdout.isatty() else 200)
    console.print(table)
    for key in used:
        console.print(f"  {key}: {tables.sources()[key].words()}", markup=False, soft_wrap=True)


@app.command(name="open")
def open_(part: Annotated[Path | None, typer.Argument(help="A model or a job file.")] = None) -> None:
    """Open the desktop."""
    desktop([] if part is None else [str(part)])


@app.command()
def demo(
    pictures: Annotated[
        Path | None, typer.Option("--pictures", help="Render each main view into this folder and end.")
    ] = None,
) -> None:
    """Open the desktop with the demo jobs."""
    desktop(["--demo"] if pictures is None else ["--demo", "--pictures", str(pictures)])


@app.command()
def doctor(as_json: JsonOption = False) -> None:
    """Say what this machine lacks, with the line to run, and the versions for a report."""
    raise typer.Exit(examined(as_json))


@app.command()
def word(
    name: Annotated[str, typer.Argument(help="A word of the trade; left out, all of them.")] = "",
    as_json: JsonOption = False,
) -> None:
    """Explain a word of the trade."""
    wanted = name.strip().lower()
    found = [one for one in words() if not wanted or wanted in {one.word.lower(), *map(str.lower, one.ways)}]
    found = found or [one for one in words() if wanted in one.word]
    if not found:
        raise UserFault(f"'{name}' is not explained here.", "See them all: pounce word")
    if as_json:
        say_json({"schema": "pounce.words/1", "words": {one.word: one.says for one in found}})
        return
    for one in found:
        print(f"{one.word}: {one.says}")


def run() -> None:
    """Entry point: every fault is one sentence on standard error."""
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        code = app(standalone_mode=False)
    except UserFault as fault:
        print(f"pounce: {fault}", file=sys.stderr)
        sys.exit(2)
    except (Cancelled, KeyboardInterrupt):
        print("pounce: cancelled; nothing was changed.", file=sys.stderr)
        sys.exit(130)
    except typer.Abort:
        sys.exit(130)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    except Exception as error:
        if hasattr(error, "format_message"):  # click's usage errors
            print(f"pounce: {tidy(error.format_message())} Try: pounce --help", file=sys.stderr)
            sys.exit(2)
        note_fault("command", error)
        print(
            f"pounce: something went wrong inside ({type(error).__name__}: {tidy(str(error))}). Please report it with "
            f"{log_file()}.",
            file=sys.stderr,
        )
        if os.environ.get("POUNCE_DEBUG"):
            raise
        sys.exit(70)
    sys.exit(code or 0)
