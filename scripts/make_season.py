"""Makes the demo's logbook: a season of an invented bench, as `pounce log import` takes it in.

The bench that is drawn from here contracts aluminium by 0.96 %, where the table says 1.2: what is learned from the
season must come out near it. Run after the demo jobs' sizes have changed: `.venv/bin/python scripts/make_season.py`.
"""

import random
import tempfile
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from pounce.job.file import load
from pounce.logbook.carry import SCHEMA, Carried
from pounce.logbook.said import Size
from pounce.logbook.sizes import usual_sizes
from pounce.logbook.values import Casting, Defect, Event, Everything, Measure, Outcome, Pour, Recipe, Side, Way
from pounce.route.demo_jobs import lay_out
from pounce.route.demos import DEMOS, SEASON
from pounce.route.log import chosen, on_of
from pounce.route.pipeline import Pipeline
from pounce.route.stops import CORES

# What this bench really does: contraction by metal (shares), rapping, give of the sand, gap of the joint (mm).
TRUE = {"aluminium-silicon": 0.0096, "grey-iron": 0.0091, "yellow-brass": 0.0147, "silicon-bronze": 0.0152}
RAPPING, SWELL, GAP = 0.28, 0.08, 0.22
SKIN, POUR = 0.08, 0.0003
RNG = random.Random(1902)


def sizes_of(folder: Path) -> dict[str, tuple[Size, ...]]:
    """The sizes of the demo jobs, by job."""
    out = {}
    for path in lay_out(folder):
        kept = load(path)
        results = Pipeline(light=True).run(kept.job, kept.model, until=CORES)
        on = on_of(results)
        assert on is not None
        out[kept.job.name] = usual_sizes(on)
        CHOSEN[kept.job.name] = chosen(kept.job)
    return out


CHOSEN: dict[str, dict[str, str]] = {}


def cast(size: Size, metal: str, of_pour: float) -> Measure:
    """A size as this bench casts it, read to a tenth of a millimetre."""
    sign = {Side.OUTSIDE: 1.0, Side.INSIDE: -1.0, Side.CENTRES: 0.0}[size.side]
    more = RAPPING if size.way is Way.ACROSS else SWELL + (GAP if size.way is Way.JOINT else 0.0)
    out = size.pattern_mm * (1.0 - TRUE[metal] - of_pour) + sign * more + RNG.gauss(0.0, SKIN)
    return Measure(
        size.name,
        round(size.pattern_mm, 3),
        round(out, 1),
        round(size.wanted_mm, 3),
        round(size.finished_mm, 3) if size.machined else 0.0,
        size.way,
        size.side,
        size.hindered,
        0.1,
    )


def plain_sizes(*names: tuple[str, float, Way]) -> tuple[Size, ...]:
    """Sizes of a job that is not on the shelf."""
    return tuple(Size(name, mm, mm, mm / (1.0 - 0.012), way, Side.OUTSIDE) for name, mm, way in names)


def pour(number: int, when: str, job: str, metal: str, sizes: tuple[Size, ...], outcomes: str, **more: object) -> Pour:
    """One pour: ``outcomes`` a letter a casting, s, f or x."""
    kinds = {"s": Outcome.SOUND, "f": Outcome.FLAWED, "x": Outcome.SCRAP}
    of_pour = RNG.gauss(0.0, POUR)
    castings = []
    flaws: dict[int, tuple[Defect, ...]] = more.pop("flaws", {})  # type: ignore[assignment]
    each = float(more.pop("each_kg", 0.5))  # type: ignore[arg-type]
    for k, letter in enumerate(outcomes, 1):
        measures = tuple(cast(one, metal, of_pour) for one in sizes[:4]) if k == 1 else ()
        kg = round(each * (1.0 + RNG.gauss(0.0, 0.01)), 3)
        castings.append(Casting(k, kinds[letter], kg, defects=flaws.get(k, ()), measures=measures))
    known = job in CHOSEN
    demo = next((one for one in DEMOS if one.name == job), None)
    charged = round(sum(one.kg or 0.0 for one in castings) * 1.62, 2)
    lost = RNG.gauss(0.021, 0.003) if metal.startswith("alum") else RNG.gauss(0.03, 0.004)
    fields = {
        "metal": metal,
        "mould": "green-sand",
        "made_percent": 1.2,
        "charge": "ingot",
        "charge_from": "last season's ingots",
        "charged_kg": charged,
        "poured_kg": round(charged * 0.9, 2),
        "returns_kg": round(charged * (1.0 - lost) - sum(one.kg or 0.0 for one in castings), 2),
        "ram_min_l": round(RNG.gauss(1.15, 0.06), 2),
        "squeeze": "right",
        "sand_uses": number,
        "minutes": {
            "drag": 14.0 + RNG.randint(-2, 3),
            "cope": 15.0 + RNG.randint(-2, 4),
            "melt": 41.0 + RNG.randint(-4, 6),
        },
        "batch": f"26-{number:02d}",
        "read_by": "meter",
        "chosen": CHOSEN.get(job, {}),
        "job_id": demo.log_id if known and demo is not None else f"season-{job.lower().replace(' ', '-')}",
    }
    at = datetime.fromisoformat(when).replace(tzinfo=UTC)
    return msgspec.convert(
        {**fields, **more, "id": f"5ea50{number:027x}", "at": at, "job": job, "castings": castings}, Pour
    )


def season(sizes: dict[str, tuple[Size, ...]]) -> Everything:
    """From March to September."""
    alu, iron, bronze, brass = "aluminium-silicon", "grey-iron", "silicon-bronze", "yellow-brass"
    across = Way.ACROSS
    bracket = plain_sizes(("Length", 150.0, across), ("Width", 64.0, across), ("Height", 22.0, Way.JOINT))
    clip = plain_sizes(("Length", 88.0, across), ("Width", 30.0, across))
    lever = plain_sizes(("Length", 236.0, across), ("Width", 41.0, across), ("Height", 18.0, Way.JOINT))
    bearing, elbow, arm, frame, finial, latch = (
        "Vent-shaft pedestal bearing",
        "Gutter elbow",
        "Vent quadrant arm",
        "Bench end frame",
        "Ridge finial",
        "Latch handle",
    )
    sink = Defect("sink", "thick", "machining", (-12.5, -42.0, 12.0), "at the body's root")
    bubble = Defect("hole-smooth", "core", "machining", None, "over the core, bright inside")
    level = Defect("lap", "all", "shake-out", None, "one height all round")
    pins = Defect("pinholes", "top", "machining", None, "under the skin of the top face")
    pours = (
        pour(
            1, "2026-03-14T13:20", "Staging bracket", alu, bracket, "ss", planned_c=715.0, poured_c=710.0, each_kg=0.31
        ),
        pour(2, "2026-04-02T14:05", "Pane clip", alu, clip, "ssss", planned_c=730.0, poured_c=726.0, each_kg=0.06),
        pour(
            3,
            "2026-04-25T12:40",
            "Sash lever",
            alu,
            lever,
            "sf",
            planned_c=720.0,
            poured_c=692.0,
            each_kg=0.42,
            flaws={2: (Defect("missing", "thin", "shake-out", None, "the far lug", cause="thin-cool"),)},
        ),
        pour(4, "2026-05-09T15:10", arm, iron, sizes[arm], "s", planned_c=1330.0, poured_c=1335.0, each_kg=2.9),
        pour(5, "2026-05-30T13:00", bearing, alu, sizes[bearing], "ss", planned_c=740.0, poured_c=736.0, each_kg=0.49),
        pour(
            6,
            "2026-06-20T14:30",
            finial,
            bronze,
            sizes[finial],
            "f",
            planned_c=1140.0,
            poured_c=1146.0,
            each_kg=0.9,
            flaws={1: (pins,)},
        ),
        pour(
            7,
            "2026-07-04T13:45",
            elbow,
            alu,
            sizes[elbow],
            "f",
            planned_c=730.0,
            poured_c=728.0,
            each_kg=0.62,
            core_mix="flour-molasses",
            flaws={1: (bubble,)},
        ),
        pour(
            8,
            "2026-07-25T11:30",
            frame,
            iron,
            sizes[frame],
            "x",
            planned_c=1360.0,
            poured_c=1352.0,
            each_kg=9.6,
            mould="loose-sand",
            broken=True,
            flaws={1: (level,)},
        ),
        pour(9, "2026-08-15T14:00", latch, brass, sizes[latch], "s", planned_c=1050.0, poured_c=1046.0, each_kg=0.4),
        pour(
            10,
            "2026-09-05T13:15",
            bearing,
            alu,
            sizes[bearing],
            "sf",
            planned_c=740.0,
            poured_c=738.0,
            each_kg=0.49,
            flaws={2: (sink,)},
            left_mm=0.9,
        ),
    )
    events = (
        Event("5ea5e0" + "0" * 26, datetime(2026, 5, 20, 18, 0, tzinfo=UTC), bearing, "made", note="printed, split"),
        Event(
            "5ea5e1" + "0" * 26, datetime(2026, 5, 22, 18, 0, tzinfo=UTC), bearing, "coat", note="two coats of filler"
        ),
        Event("5ea5e2" + "0" * 26, datetime(2026, 5, 30, 11, 0, tzinfo=UTC), bearing, "pulled"),
        Event("5ea5e3" + "0" * 26, datetime(2026, 8, 2, 18, 0, tzinfo=UTC), bearing, "repair", note="a dowel glued in"),
        Event("5ea5e4" + "0" * 26, datetime(2026, 9, 5, 11, 0, tzinfo=UTC), bearing, "pulled"),
    )
    recipes = (
        Recipe(
            "5ea5f0" + "0" * 26,
            datetime(2026, 6, 28, 18, 0, tzinfo=UTC),
            "Elbow cores",
            "core",
            {"sand": 10.0, "flour": 0.3, "molasses water": 0.4},
            "baked an hour, a little damp inside",
        ),
    )
    return Everything(pours, events, recipes)


def main() -> None:
    """Writes the season beside the demo's parts."""
    with tempfile.TemporaryDirectory() as folder:
        made = season(sizes_of(Path(folder)))
    SEASON.write_bytes(msgspec.json.format(msgspec.json.encode(Carried(SCHEMA, made)), indent=1) + b"\n")
    print(f"{len(made.pours)} pours")


if __name__ == "__main__":
    main()
