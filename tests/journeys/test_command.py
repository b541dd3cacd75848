"""The command, as its users call it: from a part file to print-ready files."""

import contextlib
import io
import json
import re
import signal
import subprocess
import sys
from pathlib import Path
from typing import Any

import manifold3d
import pypdf
import pytest
import trimesh
from rich.console import Console

from pounce.cli.main import run
from pounce.cli.says import say_plans
from pounce.route.schema import schema
from tests.conftest import box, mesh_of, write_stl
from tests.waits import slowness


def pounce(*words: object, code: int = 0) -> subprocess.CompletedProcess[str]:
    """The command as its entry point runs it, in this process: what it prints, and how it ends."""
    out, err, ended = io.StringIO(), io.StringIO(), 0
    before = signal.getsignal(signal.SIGTERM), sys.argv
    sys.argv = ["pounce", *map(str, words)]
    try:
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            run()
    except SystemExit as end:
        ended = end.code if isinstance(end.code, int) else 0
    finally:
        signal.signal(signal.SIGTERM, before[0])
        sys.argv = before[1]
    done = subprocess.CompletedProcess(words, ended, out.getvalue(), err.getvalue())
    assert done.returncode == code, done.stderr
    assert "Traceback" not in done.stderr
    return done


def test_the_command_runs_in_a_process_of_its_own(tmp_path: Path) -> None:
    """Its help without a fault, and a fault as one sentence with its code."""
    (tmp_path / "letter.stl").write_text("To the foundry.")
    ends = {"--help": (0, "check"), "check": (2, "letter.stl")}
    for word, (code, said) in ends.items():
        words = [word] if word == "--help" else [word, str(tmp_path / "letter.stl")]
        done = subprocess.run(
            [sys.executable, "-m", "pounce", *words], capture_output=True, text=True, timeout=120 * slowness()
        )
        assert done.returncode == code and said in done.stdout + done.stderr
        assert "Traceback" not in done.stderr and (not code or done.stderr.count("\n") <= 2)


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, dict[str, Any]]:
    """The bearing, built once."""
    part = Path(__file__).parents[2] / "src/pounce/route/demo/vent-shaft-pedestal-bearing.stl"
    out = tmp_path_factory.mktemp("build") / "bearing"
    done = pounce("build", part, "--out", out, "--unit", "mm", "--metal", "grey-iron", "--stl", "--json")
    return out, json.loads(done.stdout)


def test_a_part_becomes_two_closed_halves_at_pattern_size(built: tuple[Path, dict[str, Any]]) -> None:
    out, manifest = built
    assert manifest == json.loads((out / "manifest.json").read_text())
    assert manifest["schema"] == "pounce.build/1"
    assert manifest["scale"] == pytest.approx([100 / 99] * 3)
    roles = [(entry["role"], entry["format"]) for entry in manifest["files"]]
    assert roles == [
        ("cope-half", "3mf"),
        ("cope-half", "stl"),
        ("drag-half", "3mf"),
        ("drag-half", "stl"),
        # sprue; gates of the cope; runner and well of the drag
        *[("former", form) for _ in range(4) for form in ("3mf", "stl")],
        ("template", "pdf"),
        ("template", "pdf"),
        ("sheet", "pdf"),  # the pour card
        ("sheet", "pdf"),
    ]
    for entry in manifest["files"][:4]:
        other = trimesh.load_mesh(out / entry["file"])
        other.merge_vertices()
        assert other.is_watertight and entry["closed"]
        assert other.extents == pytest.approx([121.212, 80.808, 28.283], abs=0.005)
        assert other.volume == pytest.approx(entry["volume_mm3"], rel=1e-5)
    assert sorted(path.name for path in out.iterdir()) == sorted(
        ["manifest.json", *[entry["file"] for entry in manifest["files"]]]
    )


def test_the_shop_sheet_has_both_sizes_and_how_it_is_made(built: tuple[Path, dict[str, Any]]) -> None:
    pages = pypdf.PdfReader(built[0] / "shop-sheet.pdf").pages
    text = pages[0].extract_text().replace("\u00a0", " ")
    made = pages[-1].extract_text().replace("\u00a0", " ")
    assert "Printed, chosen" in made and "Cope half" in made and "Order of work" in made
    for words in (
        "121.21",
        "80.81",
        "56.57",
        "casting × 100/(100 − 1)",
        "Ø 6 and Ø 5 mm",
        "Grey iron",
        "28.28",
        "1.20 kg",
    ):
        assert words in text, words
    assert len(pages[0].images) == 1


def test_check_has_the_stable_keys(bearing: Path) -> None:
    content = json.loads(pounce("check", bearing, "--json").stdout)
    assert content["schema"] == "pounce.check/1"
    assert set(content["part"]) >= {
        "name",
        "file",
        "unit",
        "triangles",
        "bodies",
        "closed",
        "mended",
        "size_mm",
        "volume_mm3",
        "area_mm2",
        "mass_kg",
        "least_wall_mm",
    }
    assert set(content["draw"]) >= {"direction", "chosen_by", "depth_mm", "candidates"}
    assert set(content["parting"]) >= {"kind", "height_mm", "relief_mm", "loops", "length_mm"}
    assert set(content["faces"]) >= {
        "required_draft_deg",
        "clean_mm2",
        "tight_mm2",
        "locked_mm2",
        "locked_any_parting_mm2",
        "least_draft_deg",
    }
    assert content["draw"]["direction"] == [0.0, 0.0, 1.0]
    assert content["draw"]["chosen_by"] == "search"
    assert content["parting"]["kind"] == "split"
    assert content["parting"]["height_mm"] == pytest.approx(0.0, abs=1e-6)
    total = sum(content["faces"][key] for key in ("clean_mm2", "tight_mm2", "locked_mm2"))
    assert total == pytest.approx(content["part"]["area_mm2"], rel=1e-6)
    notes = [region["note"] for region in content["regions"]]
    assert "two holes Ø 11\u00a0mm" in notes
    assert "bore Ø 25\u00a0mm" in notes
    for finding in content["findings"]:
        assert set(finding) == {"code", "severity", "text", "at_mm", "figures", "remedies", "cured_by"}


def test_choices_reach_the_result(bearing: Path) -> None:
    words = (
        "--unit",
        "in",
        "--draw",
        "-y",
        "--parting",
        "flat:700",
        "--draft",
        "1",
        "--metal",
        "copper",
        "--pattern",
        "wood",
    )
    content = json.loads(pounce("check", bearing, "--json", *words).stdout)
    assert content["part"]["size_mm"] == pytest.approx([3048.0, 2032.0, 1422.4], rel=1e-5)
    assert content["draw"]["direction"] == [0.0, -1.0, 0.0]
    assert content["parting"]["height_mm"] == 700.0
    assert content["faces"]["required_draft_deg"] == 1.0
    assert (content["metal"], content["pattern"], content["contraction_percent"]) == ("copper", "wood", 1.9)


def test_new_check_and_sheet_from_a_job_file(tmp_path: Path, arm: Path) -> None:
    job = tmp_path / "arm.pounce"
    assert pounce("new", arm, "-o", job, "--metal", "grey-iron").stdout.strip() == str(job)
    content = json.loads(pounce("check", job, "--json").stdout)
    assert content["metal"] == "grey-iron"
    assert content["parting"]["kind"] == "flat-back"
    pounce("sheet", job, "-o", tmp_path / "arm.pdf", "--inches")
    assert "8.447" in pypdf.PdfReader(tmp_path / "arm.pdf").pages[0].extract_text()
    manifest = json.loads(pounce("build", job, "--out", tmp_path / "out", "--json").stdout)
    assert [entry["role"] for entry in manifest["files"]] == [
        "pattern",
        *["former"] * 4,
        "template",
        "template",
        "sheet",  # the pour card
        "sheet",
    ]


def test_faults_are_one_sentence_and_exit_two(tmp_path: Path, bearing: Path) -> None:
    (tmp_path / "letter.stl").write_text("Dear foundry,\n")
    for words, says in (
        (("check", tmp_path / "letter.stl"), "letter.stl"),
        (("check", bearing, "--metal", "mithril"), "mithril"),
        (("check", bearing, "--draw", "sideways"), "sideways"),
        (("check", bearing, "--parting", "flat:999"), "misses the part"),
        (("build", bearing), "--out"),
        (("forge",), "forge"),
    ):
        done = pounce(*words, code=2)
        assert says in done.stderr
        assert done.stderr.startswith("pounce: ")
        assert done.stderr.count("\n") == 1
        assert not done.stdout


def test_without_a_display_the_desktop_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert "--pictures" in pounce("open", code=2).stderr


def test_strict_exits_one_where_a_finding_says_stop(bearing: Path) -> None:
    pounce("check", bearing, "--strict")
    pounce("check", bearing, "--strict", "--mould", "loose-sand", code=1)


def test_the_tables_are_listed_with_their_sources() -> None:
    content = json.loads(pounce("metals", "--json").stdout)
    assert content["metals"]["grey-iron"]["contraction"]["source"] in content["sources"]
    assert "from memory" in pounce("metals").stdout
    assert "green-sand" in pounce("moulds").stdout
    assert "foam-burned-out" in pounce("patterns").stdout
    assert pounce("--version").stdout.startswith("pounce 0.")


def test_a_word_of_the_trade_is_explained() -> None:
    assert pounce("word", "Riser").stdout.startswith("feeder: A lump of metal")
    told = json.loads(pounce("word", "core print", "--json").stdout)
    assert told["schema"] == "pounce.words/1" and list(told["words"]) == ["core print"]
    assert len(pounce("word").stdout.splitlines()) > 100
    assert "See them all: pounce word" in pounce("word", "gizmo", code=2).stderr


def test_a_plan_is_taken_as_a_job_and_a_build_plans_first(tmp_path: Path) -> None:
    """A block with a hole across its draw and upright walls: filled, leaned, and proved clean by its own edits."""
    hole = manifold3d.Manifold.cylinder(100, 5, 5, 64, True).rotate([90, 0, 0]).translate([30, 20, 15])
    part = write_stl(tmp_path / "block.stl", mesh_of(box(60, 40, 30) - hole))
    content = json.loads(pounce("plan", part, "--unit", "mm", "--take", 1, "-o", tmp_path / "job", "--json").stdout)
    assert content["schema"] == "pounce.plan/2" and 1 <= len(content["plans"]) <= 3
    hours = [plan["hours"] for plan in content["plans"]]
    assert hours == sorted(hours)
    best = content["plans"][0]
    assert set(best) >= {"why", "hours", "cores", "metal_added_mm3", "draw", "parting", "edits", "proof", "left"}
    assert best["proof"]["verdict"] == "clean" and best["edits"][0]["id"] == "draw" and not best["left"]
    again = json.loads(pounce("proof", tmp_path / "job.pounce", "--json").stdout)
    assert again["proof"]["verdict"] == "clean"
    for key in ("clean_mm2", "held_mm2"):
        assert again["proof"][key] == pytest.approx(best["proof"][key], rel=1e-6)
    told = Console(record=True, width=200, file=io.StringIO())
    say_plans(told, content)
    assert "Draft on" in (said := told.export_text()) and "Hours for 3 castings" in said
    pounce("build", part, "--unit", "mm", "--plan", "--out", tmp_path / "out")
    manifest = json.loads((tmp_path / "out" / "manifest.json").read_text())
    solids = [entry for entry in manifest["files"] if "closed" in entry]
    assert solids and all(entry["closed"] for entry in solids) and manifest["proof"]["verdict"] == "clean"


def test_a_joint_that_follows_the_part_brings_its_contour_plan_at_one_to_one(tmp_path: Path) -> None:
    """The check line on the plan is 100 mm, and the dashed parting line spans what the pattern measures."""
    finial = Path(__file__).parents[2] / "src/pounce/route/demo/ridge-finial.3mf"
    out = tmp_path / "finial"
    manifest = json.loads(
        pounce("build", finial, "--out", out, "--draw", "+z", "--moulded", "cut-down", "--json").stdout
    )
    assert {entry["role"] for entry in manifest["files"]} == {"pattern", "former", "template", "sheet"}
    pattern = next(entry for entry in manifest["files"] if entry["role"] == "pattern")
    page = pypdf.PdfReader(out / "cut-down-plan.pdf").pages[0]
    content = page.get_contents()
    assert content is not None
    code = content.get_data().decode("latin-1")
    lines = [tuple(map(float, found)) for found in re.findall(r"([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l S", code)]
    mm = 72.0 / 25.4
    assert any(abs((x1 - x0) / mm - 100.0) < 0.1 and y0 == y1 for x0, y0, x1, y1 in lines)
    dashed = code[code.index("[8 4]") :].split("[] 0 d")[0]
    points = [tuple(map(float, found)) for found in re.findall(r"([\d.]+) ([\d.]+) [ml]\b", dashed)]
    spans = [(max(side) - min(side)) / mm for side in zip(*points, strict=True)]
    assert spans == pytest.approx(pattern["size_mm"][:2], abs=0.5)


def test_check_tells_the_trial_draw_and_the_shaped_joint() -> None:
    finial = Path(__file__).parents[2] / "src/pounce/route/demo/ridge-finial.3mf"
    content = json.loads(pounce("check", finial, "--draw", "+z", "--parting", "natural", "--json").stdout)
    assert content["parting"]["kind"] == "natural"
    assert content["parting"]["relief_mm"] > 5.0
    assert content["parting"]["moulded"] == "follow-board"
    assert content["trial"]["torn_mm3"] == pytest.approx(0.0, abs=1.0)
    assert len(content["trial"]["lifts_mm"]) == len(content["trial"]["cope_mm3"]) == len(content["trial"]["drag_mm3"])


def test_the_published_schema_is_that_of_the_job_file() -> None:
    kept = json.loads((Path(__file__).parents[2] / "docs" / "job.schema.json").read_text())
    assert kept == json.loads(json.dumps(schema()))
    layer = kept["$defs"]["PatternChoices"]["properties"]["layer_mm"]
    assert (layer["title"], layer["minimum"], layer["maximum"], layer["unit"]) == ("Layer", 0.02, 1.0, "mm")
    assert "grey-iron" in kept["$defs"]["MethodChoices"]["properties"]["metal"]["examples"]
