"""Sub-commands of the pour: the pour itself, and the bench's own things for melting."""

import math
import signal
import sys
import time
from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer
from rich.console import Console
from rich.table import Table

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.base.files import write_whole
from pounce.base.units import heat_words, mass, quantity
from pounce.cli.choices import Given as Words
from pounce.cli.choices import with_choices
from pounce.cli.says import say_findings
from pounce.cli.words import say_json
from pounce.cli.work import worked
from pounce.metals import tables
from pounce.pour.bundle import export_bench, import_bench
from pounce.pour.clock import Times, on_clock
from pounce.pour.devices.reader import ports, standin_ports
from pounce.pour.devices.standins import CaliperShape, CoreShape, MeltShape, StandIn, marked, marks_folder
from pounce.pour.run import load, utc_now
from pounce.pour.things import (
    KINDS,
    Crucible,
    Furnace,
    Ingot,
    OneMelt,
    Printer,
    Sand,
    Things,
    checked,
    efficiency,
    own_things,
    write_things,
)
from pounce.pour.values import PourResult
from pounce.route.pour import at_clock
from pounce.route.results import stop_keys
from pounce.route.stops import POUR

JsonOption = Annotated[bool, typer.Option("--json", help="Stable keys instead of words.")]
Given = Annotated[Path, typer.Argument(help="A model (STL, OBJ, PLY, OFF, 3MF, STEP) or a job file.")]


def register(app: typer.Typer) -> None:
    """Puts the sub-commands on the command."""
    app.command()(with_choices(pour))
    app.command()(things)
    app.command()(devices)


def pour(
    part: Given,
    words: Words,
    out: Annotated[Path | None, typer.Option("-o", "--out", help="The pour card to write, a PDF.")] = None,
    json: JsonOption = False,
) -> None:
    """Plan the pour: what to melt, how hot, in what order, and when the mould may be opened."""
    from pounce.route.paper import pour_card  # noqa: PLC0415  a room is loaded when it works

    results, _ = worked(part, words, json)
    made = results.need(POUR)
    times = on_clock(made, results.job.pour.at, utc_now(), load(results.job.name).done)
    if out is not None:
        try:
            write_whole(out, pour_card(results))
        except OSError as error:
            raise UserFault(
                f"'{out.name}' could not be written ({error.strerror}).", "Choose another folder."
            ) from error
    content: dict[str, Any] = {**stop_keys(POUR, results), "clock": at_clock(times)}
    if json:
        say_json(content)
    else:
        _say(Console(highlight=False), made, times)
        say_findings(Console(highlight=False), content)
    if out is not None:
        print(out, file=sys.stderr if json else sys.stdout)


def _say(console: Console, made: PourResult, times: Times) -> None:
    def line(text: str) -> None:
        console.print(text, soft_wrap=True, markup=False)

    c = made.charged
    ingots = f", {c.ingots} ingots of {mass(c.ingot_kg)}" if c.ingots else ""
    pieces = f", {mass(c.pieces_kg)} of weighed pieces first" if c.pieces_kg else ""
    fills = "one fill" if made.fills == 1 else f"{made.fills} fills"
    line(f"  melt {mass(c.kg)}{pieces}{ingots}; {made.pot.name.lower()}, {fills} of {mass(made.pot.holds_kg)} at most")
    line(f"  lift at {heat_words(made.lift_c)}, never over {heat_words(made.most_c)}")
    for turn in made.turns:
        m = turn.mould
        line(
            f"  {m.name}: {mass(m.kg)}, {heat_words(turn.at_c)} after {turn.after_s:.0f} s, "
            f"{quantity('a_c', m.low_c)} to {quantity('a_c', m.high_c)} will do"
        )
    line(f"  open after {quantity('t_min', made.open_min)}; {mass(made.left.kg)} are left over")
    if times.warning():
        line(f"  {times.warning()}")
    for one in times.steps:
        mark = "*" if one.critical else " "
        line(f"  {one.start.astimezone():%a %H:%M} {mark} {one.step.text}, {quantity('t_min', one.step.minutes)}")
    for check in made.checks:
        line(f"  [ ] {check.text}")


def things(
    crucible: Annotated[
        list[str] | None,
        typer.Option("--crucible", help="ID=LITRES to the brim, with :FILL (0.8) and :MATERIAL behind it."),
    ] = None,
    furnace: Annotated[
        list[str] | None,
        typer.Option("--furnace", help="ID=KW:LITRES of the largest crucible, with :burner and :HOTTEST behind it."),
    ] = None,
    ingot: Annotated[
        list[str] | None, typer.Option("--ingot", help="ID=CM3 of an ingot mould, with :MANY behind it.")
    ] = None,
    printer: Annotated[list[str] | None, typer.Option("--printer", help="ID=XxYxZ of a bed, mm.")] = None,
    sand: Annotated[
        list[str] | None, typer.Option("--sand", help="ID=W/(m K):J/(kg K) of a sand that you measured.")
    ] = None,
    timed: Annotated[
        list[str] | None,
        typer.Option("--melt", help="ID=METAL:KG:MINUTES of a melt you timed in a furnace; two tell its efficiency."),
    ] = None,
    remove: Annotated[list[str] | None, typer.Option("--remove", help="The id of one you have no more.")] = None,
    read: Annotated[Path | None, typer.Option("--import", help="A JSON file of a whole bench to take.")] = None,
    write: Annotated[Path | None, typer.Option("--export", help="The JSON file to write your whole bench to.")] = None,
    weight: Annotated[
        list[str] | None, typer.Option("--weight", help="KG of a weight that lies on a cope; all of them anew.")
    ] = None,
    json: JsonOption = False,
) -> None:
    """List your own crucibles, furnaces, ingot moulds and the rest of your bench, add and take away."""
    if read is not None:
        import_bench(read)
    own = own_things()
    changed = own
    for where, words, made in (
        ("crucibles", crucible, _crucible),
        ("furnaces", furnace, _furnace),
        ("ingots", ingot, _ingot),
        ("printers", printer, _printer),
        ("sands", sand, _sand),
    ):
        for word in words or ():
            changed = _put(changed, where, made(word))
    for word in timed or ():
        changed = _melted(changed, word)
    if weight:
        changed = checked(msgspec.structs.replace(changed, weights_kg=tuple(_number(w, w, "KG") for w in weight)))
    for key in remove or ():
        changed = _without(changed, key)
    if changed != own:
        write_things(changed)
    if write is not None:
        export_bench(write)
    if json:
        say_json({"schema": "pounce.things/1", "things": changed})
        return
    _list(changed)


def devices(
    simulate: Annotated[
        bool,
        typer.Option("--simulate", help="Open stand-ins on pseudo-terminals: a melt, a core that dries, a caliper."),
    ] = False,
    metal: Annotated[str, typer.Option("--of", help="The metal of the simulated melt.")] = "aluminium-silicon",
    kg: Annotated[float, typer.Option("--kg", help="Its kilograms.")] = 1.5,
    speed: Annotated[float, typer.Option("--speed", help="How many times as fast as the clock.")] = 1.0,
    seconds: Annotated[float, typer.Option("--for", help="End after so many seconds; 0 when it is interrupted.")] = 0.0,
    json: JsonOption = False,
) -> None:
    """List thermocouple meters, scales, calipers and other serial lines, or open simulated ones."""
    if not simulate:
        there = (*ports(), *standin_ports(marks_folder()))
        if json:
            say_json({"schema": "pounce.devices/1", "ports": [{"path": one.path, "name": one.name} for one in there]})
        elif not there:
            print("No serial line is there. Try: pounce devices --simulate")
        for one in () if json else there:
            print(f"{one.path}  {one.name}")
        return
    tables.metal(metal)
    if not 0.05 <= kg <= 100.0 or not 0.1 <= speed <= 600.0:
        raise UserFault("Such a melt cannot be simulated.", "Give 0.05 to 100 kg and a speed of 0.1 to 600.")
    hertz = min(max(2.0 * speed / 30.0, 2.0), 20.0)
    made = {
        f"simulated melt of {tables.metal(metal).name.lower()}": StandIn(MeltShape(metal, kg, 0.5 * kg), hertz, speed),
        "simulated core on a scale": StandIn(CoreShape(), hertz, speed),
        "simulated caliper": StandIn(CaliperShape(), 4.0),
    }
    with marked(made):
        for name, stand in made.items():
            print(f"{stand.port}  {name}", flush=True)
        print("Interrupt to end; SIGUSR1 lifts the crucible.", file=sys.stderr, flush=True)
        melting = next(iter(made.values()))
        signal.signal(signal.SIGUSR1, lambda *_: melting.lift())
        ends = time.monotonic() + seconds if seconds > 0.0 else math.inf
        while time.monotonic() < ends:
            time.sleep(0.2)


def _list(own: Things) -> None:
    table = Table(box=None, pad_edge=False)
    for name in ("id", "name", "what"):
        table.add_column(name, no_wrap=name != "what")
    for pot in own.crucibles:
        table.add_row(pot.id, pot.name, f"{pot.brim_l:g} l to the brim, {pot.material}, filled to {pot.fill_share:.0%}")
    for fire in own.furnaces:
        share, _, learned = efficiency(fire)
        how = "by two melts" if learned else "by the table"
        table.add_row(
            fire.id, fire.name, f"{fire.kw:g} kW, takes {fire.takes_l:g} l, to {fire.hottest_c:g} °C, {share:.0%} {how}"
        )
    for ingot in own.ingots:
        table.add_row(ingot.id, ingot.name, f"{ingot.cm3:g} cm³, {ingot.many} of them")
    for printer in own.printers:
        table.add_row(printer.id, printer.name, f"{printer.x_mm:g} x {printer.y_mm:g} x {printer.z_mm:g} mm")
    for sand in own.sands:
        table.add_row(sand.id, sand.name, f"{sand.conducts:g} W/(m K), {sand.heat:g} J/(kg K)")
    table.add_row("", "Weights", ", ".join(f"{one:g}" for one in own.weights_kg) + " kg")
    Console(highlight=False).print(table)


def _put(own: Things, where: str, new: Crucible | Furnace | Ingot | Printer | Sand) -> Things:
    kept = tuple(one for one in getattr(own, where) if one.id != new.id)
    return checked(msgspec.structs.replace(own, **{where: (*kept, new)}))


def _without(own: Things, key: str) -> Things:
    left = {name: tuple(one for one in getattr(own, name) if one.id != key) for name in KINDS}
    if all(len(left[name]) == len(getattr(own, name)) for name in left):
        raise UserFault(f"There is no '{key}' among your things.", "List them with: pounce things")
    return msgspec.structs.replace(own, **left)


def _parts(word: str, least: int, form: str) -> tuple[str, str, list[str]]:
    """Id, its name in words, and what stands behind it."""
    key, equals, rest = word.partition("=")
    parts = rest.split(":")
    if not equals or not key.strip() or len(parts) < least:
        raise UserFault(f"'{word}' says nothing that can be kept.", f"Give {form}.")
    return key.strip(), key.strip().replace("-", " ").capitalize(), parts


def _number(word: str, text: str, form: str) -> float:
    try:
        return figure(text)
    except ValueError:
        raise UserFault(f"'{word}' says nothing that can be kept.", f"Give {form}.") from None


def _crucible(word: str) -> Crucible:
    form = "ID=LITRES[:FILL][:MATERIAL], such as pot=1.2:0.8:clay-graphite"
    key, name, parts = _parts(word, 1, form)
    fill = _number(word, parts[1], form) if len(parts) > 1 and parts[1] else None
    return Crucible(key, name, _number(word, parts[0], form), parts[2] if len(parts) > 2 else "clay-graphite", fill)


def _furnace(word: str) -> Furnace:
    form = "ID=KW:LITRES[:electric or burner][:HOTTEST], such as kiln=3:2:electric:1150"
    key, name, parts = _parts(word, 2, form)
    kw, takes = (_number(word, text, form) for text in parts[:2])
    kind = parts[2] if len(parts) > 2 and parts[2] else "electric"
    hottest = _number(word, parts[3], form) if len(parts) > 3 else 1200.0
    if kind == "burner":
        return Furnace(key, name, "burner", kw, takes, hottest_c=hottest)
    if kind == "electric":
        return Furnace(key, name, "electric", kw, takes, hottest_c=hottest)
    raise UserFault(f"'{word}' says nothing that can be kept.", f"Give {form}.")


def _ingot(word: str) -> Ingot:
    form = "ID=CM3[:MANY], such as bar=110:6"
    key, name, parts = _parts(word, 1, form)
    many = int(_number(word, parts[1], form)) if len(parts) > 1 else 1
    return Ingot(key, name, _number(word, parts[0], form), many)


def _printer(word: str) -> Printer:
    form = "ID=XxYxZ in mm, such as big=300x300x400"
    key, name, parts = _parts(word, 1, form)
    sides = [_number(word, text, form) for text in parts[0].split("x")]
    if len(sides) != 3:
        raise UserFault(f"'{word}' says nothing that can be kept.", f"Give {form}.")
    return Printer(key, name, sides[0], sides[1], sides[2])


def _sand(word: str) -> Sand:
    form = "ID=CONDUCTS:HEAT, such as old-green=0.9:1100"
    key, name, parts = _parts(word, 2, form)
    return Sand(key, name, _number(word, parts[0], form), _number(word, parts[1], form))


def _melted(own: Things, word: str) -> Things:
    form = "ID=METAL:KG:MINUTES, such as kiln=aluminium-silicon:1.5:48"
    key, _, parts = _parts(word, 3, form)
    fire = next((one for one in own.furnaces if one.id == key), None)
    if fire is None:
        raise UserFault(f"There is no furnace '{key}' among yours.", "List them with: pounce things")
    one = OneMelt(parts[0], _number(word, parts[1], form), _number(word, parts[2], form))
    return _put(own, "furnaces", msgspec.structs.replace(fire, melts=(*fire.melts, one)))
