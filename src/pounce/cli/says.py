"""What the sub-commands of the stops say in words, each from its own plain values."""

from collections.abc import Callable
from typing import Any, Final

from rich.console import Console
from rich.table import Table

from pounce.base.units import area, length, mass, quantity, sizes, volume

Say = Callable[[Console, dict[str, Any]], None]


def say_findings(console: Console, content: dict[str, Any]) -> None:
    """Every finding with its place, and what cures it under it."""
    for finding in content["findings"]:
        at = finding.get("at_mm")
        place = "" if at is None else f"  at {', '.join(f'{value:.4g}' for value in at)}"
        console.print(f"  {finding['severity']:5} {finding['text']}{place}", soft_wrap=True, markup=False)
        cures = " · ".join(one["text"] for one in finding.get("remedies", ()))
        if cures:
            console.print(f"        {cures}", soft_wrap=True, markup=False)


def say_causes(console: Console, content: dict[str, Any]) -> None:
    """Open causes with the one remedy to take, then what cured the others."""
    for cause in content["causes"]:
        if cause["cured_by"] is not None:
            console.print(
                f"  cured  {cause['text']}  was {cause['figure'] or 'there'}; by {cause['cured_by']}",
                soft_wrap=True,
                markup=False,
            )
            continue
        at = "" if cause["at_mm"] is None else f"  at {', '.join(f'{value:.4g}' for value in cause['at_mm'])}"
        console.print(f"  {cause['rank']}  {cause['text']}  {cause['figure']}{at}", soft_wrap=True, markup=False)
        behind = len(cause["codes"])
        cures = " · ".join(one["text"] for one in cause["remedies"][:3])
        more = [f"{behind} findings"] * (behind > 1) + [cures] * bool(cures)
        if more:
            console.print(f"     {': '.join(more)}", soft_wrap=True, markup=False)


def say_failed(console: Console, content: dict[str, Any]) -> None:
    """Stops that could not work, and what to try."""
    for one in content["failed"]:
        console.print(f"  no {one['title']}: {one['what']} {one['try']}", soft_wrap=True, markup=False)


def say_proof(console: Console, content: dict[str, Any]) -> None:
    """The verdict on the pattern, its areas, and the causes."""
    proof = content["proof"]
    said = {
        "clean": "Proved: the pattern leaves the sand clean.",
        "drags": "The pattern leaves the sand, but drags.",
        "locks": "The pattern locks in the sand.",
        "none": "Nothing has to draw, or the shell is open: there is nothing to prove.",
    }[proof["verdict"]]
    console.print(f"[bold]{said}[/bold]")
    console.print(
        f"  clean {area(proof['clean_mm2'])}, tight {area(proof['tight_mm2'])}, locked {area(proof['locked_mm2'])}, "
        f"of it really held {area(proof['held_mm2'])}; sand torn {volume(proof['torn_mm3'])}",
        soft_wrap=True,
    )


def say_plans(console: Console, content: dict[str, Any]) -> None:
    """Each plan with its lines, what it comes to, and what is left."""
    for nth, plan in enumerate(content["plans"], 1):
        console.print(f"[bold]{nth}  {plan['title']}[/bold]  {quantity('all_hours', plan['hours'])}", soft_wrap=True)
        console.print(f"   {plan['why']}", soft_wrap=True, markup=False)
        for line in plan["edits"]:
            figure = f"  {line['figure']}" if line["figure"] else ""
            console.print(f"   - {line['text']}: {line['reason']}{figure}", soft_wrap=True, markup=False)
        for left in plan["left"]:
            console.print(f"   left: {left}", soft_wrap=True, markup=False)
    console.print(f"Hours for {content['castings']} castings, lost moulds among them.", markup=False)


def say_nothing(console: Console, content: dict[str, Any]) -> None:
    """For a stop that has nothing to say but its findings."""


def say_stock(console: Console, content: dict[str, Any]) -> None:
    """Lines, dimensions, weights."""
    for line in content["lines"]:
        more = volume(line["added_mm3"] - line["taken_mm3"])
        console.print(f"[bold]{line['name']}[/bold]  {line['about']}  {more}", soft_wrap=True)
        if line["trouble"]:
            console.print(f"  {line['trouble']}", soft_wrap=True, markup=False)
    table = Table(box=None, pad_edge=False)
    for name in ("", "wanted", "pattern", "casting", "tolerance"):
        table.add_column(name, justify="left" if not name else "right")
    for row in content["dimensions"]:
        spread = "" if row["tolerance_mm"] is None else f"± {row['tolerance_mm'] / 2.0:.2f}"
        cells = [f"{row[key]:.2f}" for key in ("wanted_mm", "pattern_mm", "casting_mm")]
        table.add_row(row["name"], *cells, spread)
    console.print(table)
    console.print(
        f"part {volume(content['finished']['volume_mm3'])}, {mass(content['finished']['mass_kg'])}; "
        f"as cast {volume(content['cast']['volume_mm3'])}, {mass(content['cast']['mass_kg'])}"
    )


def say_cores(console: Console, content: dict[str, Any]) -> None:
    """Hollows to decide on, and every core with its prints and boxes."""
    for offer in content["offers"]:
        if not offer["make"]:
            at = ",".join(f"{value:g}" for value in offer["at_mm"])
            console.print(
                f"{offer['name']}  {volume(offer['volume_mm3'])}, {offer['why']}: --core {at}", soft_wrap=True
            )
    for one in content["cores"]:
        console.print(
            f"[bold]{one['name']}[/bold]  {volume(one['volume_mm3'])}, {mass(one['sand_kg'])} of sand", soft_wrap=True
        )
        for p in one["prints"]:
            keyed = ", keyed" if p["keyed"] else ""
            console.print(
                f"  {p['kind']} print {length(p['length_mm'])}, clearance {length(p['clearance_mm'], digits=2)}{keyed}"
            )
        for box in one["boxes"]:
            console.print(f"  box {sizes(tuple(box['size_mm']))}: {', '.join(box['parts']).lower()}")


def say_making(console: Console, content: dict[str, Any]) -> None:
    """The ways held side by side, prints, the cut list, the steps."""
    for way in content["ways"]:
        mark = "[bold]" if way["way"] == content["way"] else "[dim]"
        console.print(
            f"{mark}{way['way']}[/]  {quantity('all_hours', way['hours'])}, {way['takes']}. {way['minds']}",
            soft_wrap=True,
        )
    for one in content["prints"]:
        console.print(
            f"  {one['name']}  {sizes(tuple(one['size_mm']))}, bed {one['bed']}, "
            f"{quantity('print_hours', one['minutes'] / 60.0)}"
        )
    for one in content["cut_list"]:
        console.print(
            f"  {one['name']}  {sizes((one['long_mm'], one['wide_mm'], one['thick_mm']))} {one['grain']}",
            soft_wrap=True,
        )
    for nth, step in enumerate(content["steps"], 1):
        console.print(f"  {nth}  {step}", soft_wrap=True)


def say_rig(console: Console, content: dict[str, Any]) -> None:
    """The flask, the way of the metal, what is weighed, and the steps."""
    f, w = content["flask"], content["mass_kg"]
    own = f["name"] if f["own"] else "A box to build" if content["boards"] else f["name"]
    high = f"{length(f['cope_mm'])} over {length(f['drag_mm'])}"
    console.print(f"[bold]{own}[/bold]  {sizes(tuple(f['inside_mm']))} inside, {high}", soft_wrap=True)
    for one in content["boards"]:
        console.print(f"  {one['count']} x {one['name'].lower()}  {sizes(tuple(one['size_mm']))}")
    for one in content["castings"]:
        x, y = one["at_mm"]
        console.print(f"  {one['name']} at {x:.1f}, {y:.1f} mm, turned {one['turn_deg']:.0f}°", soft_wrap=True)
    sprue, runner, gate = content["sprue"], content["runner"], content["gates"][0]
    console.print(
        f"  sprue Ø {sprue['foot_mm']:g} to {sprue['top_mm']:g} mm, runner "
        f"{sizes((runner['width_mm'], runner['height_mm']))} in the {runner['half']}, {len(content['gates'])} x gate "
        f"{sizes((gate['width_mm'], gate['thickness_mm']))} in the {gate['half']}",
        soft_wrap=True,
    )
    console.print(
        f"  to pour {mass(w['total'])}, {100.0 * content['yield']:.0f} % of it castings, in {content['fill_s']:.1f} s",
        soft_wrap=True,
    )
    for nth, step in enumerate(content["steps"], 1):
        console.print(f"  {nth}  {step}", soft_wrap=True, markup=False)


def say_freeze(console: Console, content: dict[str, Any]) -> None:
    """The order of setting, last places, feeders that were tried, and how it fills."""
    for one in content["order"]:
        console.print(f"  {quantity('s_s', one['seconds'])}  {one['what']}", soft_wrap=True, markup=False)
    for place in content["places"]:
        low, high = (volume(one) for one in place["void_mm3"])
        gone = place["lies"] == "gone"
        wants = "wants a feeder" if place["wants"] else "machined off" if gone else "even section, or taken"
        console.print(
            f"[bold]{place['name']}[/bold]  {quantity('s_s', place['seconds'])}, {low} to {high}: {wants}",
            soft_wrap=True,
        )
    cure = content["cure"]
    for one in () if cure is None else cure["feeders"]:
        at = ",".join(f"{value:g}" for value in one["at_mm"])
        sleeve = ", in a sleeve" if one["sleeve"] else ""
        console.print(
            f"  tried: feeder Ø {one['diameter_mm']:g}, neck {one['neck_mm']:g}, "
            f"{one['height_mm']:g} high{sleeve}{', on the gate' if one['on_gate'] else ''}"
            f"{'' if one['open'] else ', blind'} at {at}"
        )
    for one in () if cure is None else cure["chills"]:
        at = ",".join(f"{value:g}" for value in one["at_mm"])
        console.print(f"  tried: chill {one['side_mm']:g} square, {one['thickness_mm']:g} thick at {at}")
    fill = content["fill"]
    fills = "no temperature" if fill["fills_c"] is None else quantity("fills_c", fill["fills_c"])
    console.print(
        f"  fills in {quantity('s_s', fill['seconds'])} from {fills} on, "
        f"poured at {quantity('pour_c', content['pour_c'])}"
    )


SAYS: Final[dict[str, Say]] = {
    "stock": say_stock,
    "cores": say_cores,
    "pattern": say_making,
    "mould": say_rig,
    "freeze": say_freeze,
}
