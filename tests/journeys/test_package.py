"""The Debian package, built from what is installed here: put into a root of its own, run from there, taken away; and
the desktop's files by their own validators.
"""

import json
import os
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ET
from configparser import ConfigParser
from pathlib import Path

import pytest

from pounce.base.version import VERSION
from pounce.cli.doctor import libraries
from tests.builds import whole_tree
from tests.waits import slowness

ROOT = Path(__file__).parents[2]
HERE = ROOT / "packaging"
SITE = f"opt/pounce/lib/python{sys.version_info.major}.{sys.version_info.minor}/site-packages"

needs_dpkg = pytest.mark.skipif(shutil.which("dpkg-deb") is None, reason="this system has no dpkg")


def told(*words: str, **more: object) -> str:
    done = subprocess.run(words, capture_output=True, text=True, timeout=400 * slowness(), **more)  # type: ignore[call-overload]
    assert done.returncode == 0, done.stderr
    return str(done.stdout)


@pytest.fixture(scope="module")
def package(tmp_path_factory: pytest.TempPathFactory) -> Path:
    base = tmp_path_factory.getbasetemp()
    # one for all processes of the run: it takes its time
    out = (base.parent if "PYTEST_XDIST_WORKER" in os.environ else base) / "deb"
    with whole_tree():
        if not list(out.glob("pounce_*.deb")):
            told(sys.executable, str(HERE / "deb.py"), str(out), "--fast")
    (made,) = out.glob("pounce_*.deb")
    return made


@needs_dpkg
def test_it_installs_runs_from_its_own_files_and_leaves_nothing(package: Path, tmp_path: Path) -> None:
    fields = dict(line.split(": ", 1) for line in told("dpkg-deb", "-f", str(package)).splitlines() if ": " in line)
    assert fields["Version"] == VERSION
    assert all(wanted in fields["Depends"] for _, wanted in libraries())
    root = tmp_path / "root"
    told("dpkg-deb", "-x", str(package), str(root))
    for wanted in (
        "usr/share/applications/pounce.desktop",
        "usr/share/icons/hicolor/scalable/apps/pounce.svg",
        "usr/share/mime/packages/pounce.xml",
        "usr/share/metainfo/pounce.metainfo.xml",
        "usr/share/man/man1/pounce.1.gz",
        "usr/share/doc/pounce/copyright",
        f"{SITE}/pounce/handbook/index.html",
    ):
        assert (root / wanted).is_file(), wanted
    assert os.readlink(root / "usr/bin/pounce") == "/opt/pounce/bin/pounce"
    assert not list((root / SITE).glob("pytest*")) and not (root / SITE / "mypy").exists(), "tools went with it"
    # -S and -E: nothing of the environment that runs this test can help out
    run = [sys.executable, "-S", "-c"]
    code = f"import sys; sys.path.insert(0, {str(root / SITE)!r}); from pounce.cli.entry import run; run()"
    env = {"PATH": os.environ["PATH"], "HOME": str(tmp_path), "NUMBA_DISABLE_JIT": "0"}
    assert told(*run, code, "--version", env=env).strip() == f"pounce {VERSION}"
    made = json.loads(told(*run, code, "metals", "--json", env=env))
    assert made["schema"] == "pounce.metals/1"
    # every library of the bench loads from the package: Qt's window parts, VTK's picture, the solid library, STEP
    loads = (
        f"import sys; sys.path.insert(0, {str(root / SITE)!r}); import pounce.bench.app, pounce.bench.worker, "
        "pounce.bench.view3d.server, pounce.route.planner, pounce.route.paper, manifold3d, lib3mf, cascadio; "
        "print(all('/opt/pounce/' in m.__file__ for n, m in sys.modules.items() "
        "if n.split('.')[0] in ('numpy', 'PyQt6', 'vtkmodules', 'pounce') and getattr(m, '__file__', None)))"
    )
    assert told(*run, loads, env=env | {"QT_QPA_PLATFORM": "offscreen"}).strip() == "True"


@needs_dpkg
@pytest.mark.skipif(os.geteuid() != 0, reason="packages are put in by root")
def test_dpkg_puts_it_in_and_takes_all_of_it_away(package: Path, tmp_path: Path) -> None:
    """Into a root of its own; what its own dependencies are is not asked there."""
    root = tmp_path / "root"
    for folder in ("var/lib/dpkg/updates", "var/lib/dpkg/info", "home/maker"):
        (root / folder).mkdir(parents=True)
    (root / "var/lib/dpkg/status").touch()
    kept = root / "home/maker/first.pounce"
    kept.write_text("the user's own", encoding="utf-8")
    words = ["dpkg", f"--root={root}", "--force-depends", "--force-script-chrootless", "--no-triggers"]
    told(*words, "-i", str(package))
    assert (root / "opt/pounce/pyvenv.cfg").is_file() and (root / "usr/bin/pounce").is_symlink()
    told(*words, "--purge", "pounce")
    left = [path for path in root.rglob("*") if "var/lib/dpkg" not in str(path) and not path.is_dir()]
    assert left == [kept]


def test_the_desktop_entry_names_what_is_there() -> None:
    entry = ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(HERE / "pounce.desktop", encoding="utf-8")
    desktop = entry["Desktop Entry"]
    assert desktop["Exec"].split()[0] == "pounce" and desktop["Icon"] == "pounce"
    types = {one.get("type") for one in ET.parse(HERE / "pounce-mime.xml").getroot()}
    assert types <= set(desktop["MimeType"].split(";"))
    about = ET.parse(HERE / "pounce.metainfo.xml").getroot()
    assert about.findtext("launchable") == "pounce.desktop" and about.findtext("project_license") == "GPL-3.0-or-later"


@pytest.mark.parametrize(
    "words",
    [
        ["desktop-file-validate", str(HERE / "pounce.desktop")],
        ["appstreamcli", "validate", "--no-net", str(HERE / "pounce.metainfo.xml")],
        ["man", "--warnings=w", "-l", "-P", "cat", str(ROOT / "docs/pounce.1")],
        ["flatpak-builder", "--show-manifest", str(HERE / "flatpak/local.pounce.Pounce.json")],
    ],
    ids=lambda words: words[0],
)
def test_their_own_validators_find_nothing(words: list[str]) -> None:
    """Where these are installed; `make deb-check` installs the first two."""
    if shutil.which(words[0]) is None:
        pytest.skip(f"{words[0]} is not installed here")
    done = subprocess.run(words, capture_output=True, text=True, timeout=60 * slowness(), check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_the_flatpak_recipe_takes_nothing_from_a_network_and_names_files_that_are_there() -> None:
    recipe = json.loads((HERE / "flatpak/local.pounce.Pounce.json").read_text(encoding="utf-8"))
    assert recipe["command"] == "pounce" and "--share=network" not in recipe["finish-args"]
    (module,) = recipe["modules"]
    assert "--no-index" in module["build-commands"][0]
    for source in module["sources"]:
        assert source["type"] in ("dir", "file"), "nothing is fetched"
        if source["type"] == "file":
            assert (HERE / "flatpak" / source["path"]).resolve().is_file()
