"""What the sub-commands of the logbook do."""

import sys
from collections.abc import Iterable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import msgspec
from rich.console import Console
from rich.table import Table

from pounce.base.errors import UserFault
from pounce.base.figures import figure
from pounce.base.files import write_whole
from pounce.base.units import percent, plain, quantity
from pounce.cli.words import say_json
from pounce.cli.work import worked
from pounce.job import file
from pounce.job.job import SUFFIX
from pounce.logbook.book import Book
from pounce.logbook.carry import take_in, write
from pounce.logbook.compare import differs_of
from pounce.logbook.diagnose import diagnosed
from pounce.logbook.evidence import Case
from pounce.logbook.fit import one_size
from pounce.logbook.learn import contraction_of, figures_of
from pounce.logbook.report import report as rows_of
from pounce.logbook.said import Contraction, Diagnosis, Learned
from pounce.logbook.values import Event, Line, Pour, Recipe, new_id
from pounce.metals import tables
from pounce.metals.grades import tolerance_grade
from pounce.metals.learn import claimed
from pounce.metals.learn import learn as learning
from pounce.pour.run import load
from pounce.route import entry
from pounce.route.log import facts_of
from pounce.route.logkeys import came_out, line_words
from pounce.route.paper import preview_png
from pounce.route.results import Results, stop_keys
from pounce.route.stops import DRAW, LOGBOOK, PART
from pounce.route.story import story_pdf


def add(
    job: Path,
    at: str,
    poured: float | None,
    castings: list[str] | None,
    measures: list[str] | None,
    caliper: float | None,
    flaws: list[str] | None,
    fields: list[str] | None,
    photos: list[Path] | None,
    json: bool,
) -> None:
    """Keep a pour of a job, with all that its card and its meter know already."""
    if job.suffix.lower() != SUFFIX:
        raise UserFault(f"'{job.name}' is no job file.", f"Save it as a {SUFFIX} file first: pounce new")
    results, model = worked(job, {}, json)
    pour = entry.new_pour(results, load(results.job.name), datetime.now(UTC))
    if at:
        pour = msgspec.structs.replace(pour, at=entry.utc(at))
    words = [*(fields or ()), *([] if poured is None else [f"poured_c={poured}", "read_by=hand"])]
    pour = entry.with_fields(pour, words)
    pour = _filled(pour, results, castings or (), measures or (), flaws or (), caliper)
    with Book() as book:
        pour = msgspec.structs.replace(pour, photos=tuple(book.attach(photo) for photo in photos or ()))
        entry.keep(book, pour, results.job.pour.moulds)
    file.save(
        job, entry.linked(results.job, pour), model, preview_png(results.need(PART), results.need(DRAW).direction)
    )
    _say_kept(pour, json)


def _filled(
    pour: Pour,
    results: Results | None,
    castings: Iterable[str],
    measures: Iterable[str],
    flaws: Iterable[str],
    caliper: float | None,
) -> Pour:
    """The pour with castings, sizes and defects as they were said."""
    step = learning().common.caliper.value if caliper is None else caliper
    sizes = () if results is None else entry.sizes_of(results)
    for word in castings:
        pour = entry.with_casting(pour, word)
    for word in measures:
        pour = entry.with_measure(pour, word, sizes, step)
    for word in flaws:
        pour = entry.with_defect(pour, word)
    return pour


def _say_kept(pour: Pour, json: bool) -> None:
    if json:
        say_json({"schema": "pounce.log.entry/1", "entry": pour})
    else:
        print(f"{pour.id[:8]}  {pour.job}, {came_out(tuple(one.outcome for one in pour.castings))}")


def change(
    which: str,
    castings: list[str] | None,
    measures: list[str] | None,
    flaws: list[str] | None,
    fields: list[str] | None,
    photos: list[Path] | None,
    leave_out: list[str] | None,
    drop: bool,
    json: bool,
) -> None:
    """Complete an entry, correct it, or take it out."""
    with Book() as book:
        pour = entry.found_pour(book, which)
        if drop:
            book.drop(pour.id)
            print(f"{pour.id[:8]} taken out")
            return
        pour = entry.with_fields(pour, fields or ())
        pour = _filled(pour, None, castings or (), measures or (), flaws or (), None)
        for word in leave_out or ():
            pour = entry.left_out(pour, word)
        more = tuple(book.attach(photo) for photo in photos or ())
        pour = msgspec.structs.replace(pour, photos=(*pour.photos, *more))
        book.keep(pour)
    _say_kept(pour, json)


def list_(words: list[str] | None, metal: str, most: int, json: bool) -> None:
    """List pours, the newest first."""
    with Book() as book:
        lines = book.lines(" ".join(words or ()), metal, most)
        _say_mended(book)
    if json:
        say_json({"schema": "pounce.log.list/1", "pours": [_line_keys(one) for one in lines]})
        return
    table = Table(box=None, pad_edge=False)
    for name in ("id", "poured", "job", "metal", "planned/poured", "first size", "came out"):
        table.add_column(name, justify="right" if name in ("planned/poured", "first size") else "left", no_wrap=True)
    for one in lines:
        table.add_row(
            one.id[:8],
            f"{one.at.astimezone():%d %b %Y}",
            one.job,
            one.metal,
            _heats(one),
            "" if one.first_mm is None else quantity("size_mm", one.first_mm),
            line_words(one),
        )
    Console(highlight=False, width=None if sys.stdout.isatty() else 160).print(table)


def _line_keys(one: Line) -> dict[str, Any]:
    state = None if one.state is None else one.state.value
    return {**msgspec.to_builtins(one), "state": state}


def _heats(one: Line) -> str:
    planned, poured = ("-" if value is None else f"{round(value)}" for value in (one.planned_c, one.poured_c))
    return f"{planned}/{poured} °C"


def _say_mended(book: Book) -> None:
    if book.said:
        print(book.said, file=sys.stderr)


def show(which: str, json: bool) -> None:
    """Show an entry whole."""
    with Book() as book:
        pour = entry.found_pour(book, which)
    if json:
        say_json({"schema": "pounce.log.entry/1", "entry": pour})
        return
    usual = {one.name: one.default for one in msgspec.structs.fields(Pour)}
    for name in pour.__struct_fields__:
        value = getattr(pour, name)
        if value != usual.get(name) and name not in ("castings", "photos", "minutes", "chosen"):
            print(f"{name.replace('_', ' ')}: {value}")
    for casting in pour.castings:
        weight = "" if casting.kg is None else f", {casting.kg:g} kg"
        print(f"casting {casting.number}: {casting.outcome.value}{weight}")
        for one in casting.measures:
            out = ", left out" if one.left_out else ""
            print(f"  {one.name}: {one.casting_mm:g} mm from {one.pattern_mm:.2f} mm of pattern{out}")
        for flaw in casting.defects:
            print(f"  {', '.join(filter(None, (flaw.seen, flaw.where, flaw.when, flaw.note)))}")


def export(out: Path) -> None:
    """Write the whole logbook into one file."""
    with Book() as book:
        many = write(book, out)
    print(f"{out}  {many} pours")


def import_(given: Path) -> None:
    """Take a logbook into yours; entries that are there already are the ones of the file."""
    with Book() as book:
        print(f"{take_in(book, given)} pours")


def learn(metal: str, mould: str, claim: float | None, size: str, json: bool) -> None:
    """Learn this bench's contraction and its other figures from what was measured."""
    known = tables.metal(metal)
    tables.mould(mould)
    if size:
        _say_size(size, json)
        return
    if claim is not None:
        made = claimed(known, metal, claim)
        if json:
            say_json(
                {"schema": "pounce.log.claim/1", "possible": made.possible, "inside": made.inside, "why": made.why}
            )
        else:
            print(made.why)
        return
    with Book() as book:
        pours = book.pours(metal=metal)
        _say_mended(book)
    c, figures = contraction_of(pours, metal, mould), figures_of(pours, metal)
    if json:
        say_json({"schema": "pounce.log.learn/1", "contraction": c, "figures": figures})
    else:
        _say_learned(c, figures)


def _say_size(word: str, json: bool) -> None:
    """What one size says alone."""
    sizes, _, step = word.partition("@")
    try:
        pattern, casting = (figure(one) for one in sizes.split(":"))
        good_to = figure(step)
    except ValueError:
        raise UserFault(f"'{word}' says no size.", "Give PATTERN:CASTING@RESOLUTION, such as 1810:1790@10.") from None
    if not 0.0 < casting <= 1.1 * pattern or good_to <= 0.0:
        raise UserFault(f"'{word}' cannot be a size.", "Give the pattern first, then the casting, in mm.")
    found = one_size(pattern, casting, good_to, learning().common.held.value / 100.0)
    if json:
        say_json({"schema": "pounce.log.size/1", "percent": 100.0 * found.value, "give_percent": 100.0 * found.give})
    else:
        print(f"{plain(100.0 * found.value, 1)} %, give or take {plain(100.0 * found.give, 1)}")


def _say_learned(c: Contraction, figures: tuple[Learned, ...]) -> None:
    if not c.learned:
        print(f"Nothing was measured yet in {c.metal} and {c.mould}. The table says {c.low:g} to {c.high:g} %.")
    else:
        free, held = percent(c.free.value), percent(c.free.give)
        print(
            f"{free} give or take {held}, of {c.measures} sizes in {len(c.says)} pours; table {c.low:g} to {c.high:g} %"
        )
        print(f"hindered {percent(c.hindered.value)}; the next pour {percent(c.next.low)} to {percent(c.next.high)}")
        print(
            f"rapping adds {plain(c.rapping_mm.value, 2)} mm across the draw, the joint {plain(c.gap_mm.value, 2)} mm"
        )
        for one in c.says:
            said = f"{plain(one.percent.value, 2)} ± {plain(one.percent.give, 2)} %"
            print(f"  {one.pour[:8]}  {one.job}, {plain(one.size_mm, 0)} mm: {said}")
        for odd in c.odd:
            print(f"  {odd.job}, {odd.name} of casting {odd.casting}: {abs(odd.off):.1f} sd off the rest")
    for told in figures:
        value, give = (plain(each, told.digits) for each in (told.estimate.value, told.estimate.give))
        table = "" if told.table is None else f"; table {plain(told.table.value, told.digits)}"
        print(f"{told.name} {value} ± {give} {told.unit}, {told.readings} readings{table}")


def report(which: str, out: Path | None, json: bool) -> None:
    """Report sizes against ISO 8062, and defects with their causes."""
    if Path(which).suffix.lower() == SUFFIX:
        results, _ = worked(Path(which), {}, json)
        content: dict[str, Any] = stop_keys(LOGBOOK, results)
        if out is not None:
            _written(out, story_pdf(results))
        if json:
            say_json(content)
            return
        for row in content["report"]:
            _say_row(
                row["casting"], row["name"], row["expected_mm"], row["measured_mm"], row["half_mm"], row["left_mm"]
            )
        for one in content["defects"]:
            print(f"casting {one['casting']}, {one['seen']}: {one['said']} {one['test']}")
        return
    if out is not None:
        raise UserFault("A story is told of a job.", "Give its job file.")
    with Book() as book:
        pour = entry.found_pour(book, which)
    grade = tolerance_grade(None, tables.mould(pour.mould or "green-sand"))
    rows = [(one.number, row) for one in pour.castings for row in rows_of(one, grade)]
    if json:
        say_json(
            {
                "schema": "pounce.log.report/1",
                "entry": pour.id,
                "grade": grade,
                "rows": [{"casting": k, "off_mm": r.off_mm, "within": r.within, **_plain(r)} for k, r in rows],
            }
        )
        return
    print(f"{pour.job}, {pour.at.astimezone():%d %B %Y}; {grade} of ISO 8062")
    for number, row in rows:
        _say_row(number, row.name, row.expected_mm, row.measured_mm, row.half_mm, row.left_mm)


def _plain(row: object) -> dict[str, Any]:
    return dict(msgspec.to_builtins(row))


def _say_row(casting: int, name: str, wanted: float, was: float, half: float | None, left: float | None) -> None:
    within = "" if half is None else f" (± {plain(half, 2)}{'' if abs(was - wanted) <= half else ', outside'})"
    stock = "" if left is None else f", {plain(left, 2)} mm left to machine"
    off = f"{plain(was - wanted, 2)} off {plain(wanted, 2)}"
    print(f"  casting {casting} {name}: {plain(was, 2)} mm, {off}{within}{stock}")


def _written(out: Path, data: bytes) -> None:
    try:
        write_whole(out, data)
    except OSError as error:
        raise UserFault(f"'{out.name}' could not be written ({error.strerror}).", "Choose another folder.") from error
    print(out, file=sys.stderr)


def diagnose(job: Path, flaw: str, fields: list[str] | None, json: bool) -> None:
    """Say what may have made a defect, by what is seen and by the job's own figures."""
    results, _ = worked(job, {}, json)
    pour = entry.with_fields(entry.new_pour(results, load(results.job.name), datetime.now(UTC)), fields or ())
    pour = entry.with_defect(msgspec.structs.replace(pour, castings=()), flaw)
    found = diagnosed(Case(pour.castings[0].defects[0], pour, facts_of(results)))
    if json:
        say_json({"schema": "pounce.log.diagnosis/1", **msgspec.to_builtins(found)})
    else:
        _say_diagnosis(found)


def _say_diagnosis(found: Diagnosis) -> None:
    print(found.said)
    for one in found.suspects:
        print(f"  {one.share:4.0%}  {one.name}: {one.word}")
    print(found.test)


def compare(first: str, second: str, json: bool) -> None:
    """Lay two pours side by side: what differs."""
    with Book() as book:
        one, two = entry.found_pour(book, first), entry.found_pour(book, second)
    rows = [*entry.differ(one, two), *differs_of(one.chosen, two.chosen)]
    if json:
        said = [{"name": row.name, "first": row.was, "second": row.now} for row in rows]
        say_json({"schema": "pounce.log.compare/1", "first": one.id, "second": two.id, "differs": said})
        return
    for row in rows:
        print(f"{row.name}: {row.was} | {row.now}")


def pattern(name: str, coat: str, repair: str, json: bool) -> None:
    """Say what was done to a pattern, and list it: coats, repairs, moulds made of it."""
    with Book() as book:
        for kind, note in (("coat", coat), ("repair", repair)):
            if note:
                book.note(Event(new_id(), datetime.now(UTC), name, kind, note=note))  # type: ignore[arg-type]
        events = book.events(name)
    if json:
        say_json({"schema": "pounce.log.pattern/1", "pattern": name, "events": events})
        return
    for one in events:
        what = f"{one.count} pulled" if one.kind == "pulled" else one.kind
        print(f"{one.at.astimezone():%d %b %Y}  {what}{': ' + one.note if one.note else ''}")


def recipe(name: str, part: list[str] | None, core: bool, note: str, json: bool) -> None:
    """Keep a mix of core or moulding sand, and list them."""
    with Book() as book:
        if name:
            made = Recipe(new_id(), datetime.now(UTC), name, "core" if core else "sand", _parts(part or ()), note)
            book.write_recipe(made)
        known = book.recipes()
    if json:
        say_json({"schema": "pounce.log.recipes/1", "recipes": known})
        return
    for one in known:
        parts = ", ".join(f"{value:g} {what}" for what, value in one.parts.items())
        print(f"{one.at.astimezone():%d %b %Y}  {one.name} ({one.kind}): {parts}{'; ' + one.note if one.note else ''}")


def _parts(words: Iterable[str]) -> dict[str, float]:
    out = {}
    for word in words:
        name, _, weight = word.partition("=")
        try:
            out[name.strip()] = figure(weight)
        except ValueError:
            raise UserFault(f"'{word}' says no part of a mix.", "Give NAME=WEIGHT, such as sand=10.") from None
    if not out:
        raise UserFault("A mix has parts.", "Give each with --part NAME=WEIGHT.")
    return out
