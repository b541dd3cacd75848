"""Stock on the bench."""

from dataclasses import replace

from pounce.base.units import area, count_words, degrees, length, volume
from pounce.bench.cards.stock import StockCard
from pounce.bench.stops.view import Headline, Shown, StopView, draw_of, plain_cut
from pounce.bench.stops.words import MOST_TAGS
from pounce.bench.view3d.asks import SceneAsked
from pounce.bench.widgets.labels import Chip, Tag
from pounce.route.results import Results
from pounce.stock.values import Added, LineKind


def _stock(r: Results, unit: str) -> Headline | None:
    s = r.stock
    if s is None:
        return None
    working = [line for line in s.lines if line.on and not line.trouble]
    if not working:
        return Headline(
            "Nothing is added yet: the casting would have the part's own shape.",
            "Point at a face or a bore, or add a line.",
        )
    count = count_words(len(working)).capitalize()
    kind = "addition" if len(working) == 1 else "additions"
    head = f"{count} {kind}, {volume(s.added_mm3, unit)} of metal, before it meets the sand."
    if s.added_mm3 < 0.0:
        head = f"{count} {kind} take {volume(-s.added_mm3, unit)} of metal away."
    return Headline(head, "Pointing at a line lights its metal here and in the section.")


def _line(r: Results, unit: str) -> str | None:
    if r.stock is None:
        return None
    working = sum(line.on for line in r.stock.lines)
    return (
        f"{working} {'line' if working == 1 else 'lines'}, {volume(r.stock.added_mm3, unit)}"
        if working
        else "Nothing added"
    )


def _scene(kind: str, results: Results, paths: dict[str, str], shown: Shown) -> SceneAsked:
    packed = None if shown.bare else paths.get("stock")
    return SceneAsked(
        "part" if packed is None else kind,
        paths.get("part"),
        paths.get("parting"),
        None,
        draw_of(results),
        stock=packed,
    )


def _tags(results: Results, _scene: SceneAsked, unit: str) -> tuple[Tag, ...]:
    """Each line where it is, shortly."""
    tags: list[Tag] = []
    for index, line in enumerate(() if results.stock is None else results.stock.lines):
        at = line.at_mm
        if not line.on or at is None or line.added_mm3 + line.taken_mm3 <= 0.0 or len(tags) >= MOST_TAGS:
            continue
        tags.append(Tag(short_words(line, unit), at, "added", None, index))
    return tuple(tags)


def short_words(line: Added, unit: str) -> str:
    """A line in few words, for a label on the bench."""
    f = line.figures
    if line.kind == LineKind.MACHINING and "left_mm" in f:
        return f"Ø {length(f['diameter_mm'], unit)} cast at {length(f['left_mm'], unit)}"
    if line.kind == LineKind.MACHINING:
        return f"face + {length(f['stock_mm'], unit)}"
    if line.kind == LineKind.DRAFT:
        return f"draft {degrees(f['draft_deg'])}, {length(f['widest_mm'], unit)} at its foot"
    if line.kind == LineKind.FILLETS:
        return f"fillet R {length(f['radius_mm'], unit)}"
    if line.kind == LineKind.FILL:
        return "filled" + (", centre mark" if f.get("marked") else "")
    if line.kind == LineKind.LETTERING:
        return f"{'raised' if line.added_mm3 > 0.0 else 'sunk'} {length(f['proud_mm'], unit)}"
    if line.kind == LineKind.CAMBER:
        return f"bow {length(f['bow_mm'], unit)}"
    return line.words(unit).lower()


def _chips(results: Results, unit: str, shown: Shown) -> tuple[Chip, ...]:
    stock = results.stock
    if stock is None:
        return ()
    chips = [
        Chip("steelFlat", "The part wanted"),
        Chip("added", "Metal added", volume(max(stock.added_mm3, 0.0), unit)),
    ]
    if len(stock.filler_mm):
        chips[1] = Chip("filler", "Filler, up to", length(float(stock.filler_mm.max(initial=0.0)), unit, 2))
    if stock.thin.any():
        chips.append(Chip("thin", "Thinner than it runs", area(stock.thin_mm2, unit)))
    if 0 <= shown.pointed < len(stock.lines):
        line = stock.lines[shown.pointed]
        chips.append(Chip("pointed", "Pointed at", volume(line.added_mm3 + line.taken_mm3, unit)))
    return tuple(chips)


VIEW = StopView(
    "What is added, and what is taken off later.",
    "What is added",
    StockCard,
    _stock,
    _line,
    "stock",
    _scene,
    tags=_tags,
    chips=_chips,
    cut=lambda asked: replace(plain_cut(asked), stock=True),
    sand=True,
)
