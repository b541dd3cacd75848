"""Builds the Debian package from the tree: ``make deb``.

All that Pounce runs on goes with it, in a virtual environment of its own under /opt/pounce: the very files of the
locked packages in ``.venv``, so that nothing is fetched and nothing differs from what was tested. The system gives
Python and the libraries of ``src/pounce/base/libraries.txt``. Kernels are compiled once by each user, into the user's
own cache.
"""

import argparse
import compileall
import gzip
import re
import shutil
import subprocess
import sys
import zipfile
from importlib import metadata
from pathlib import Path

from packaging.requirements import Requirement

from pounce.base.version import VERSION
from pounce.cli.doctor import libraries

ROOT = Path(__file__).resolve().parents[1]
HERE = ROOT / "packaging"
OPT = Path("opt/pounce")
PYTHON = f"python{sys.version_info.major}.{sys.version_info.minor}"
SITE = OPT / "lib" / PYTHON / "site-packages"
# What VTK asks for to draw charts in other programs' windows: Pounce never loads it, and it is 60 MB.
LEFT_OUT = {"matplotlib"}
# What the window loads of Qt: libraries without their "Qt6", and kinds of plug-ins.
QT_LIBRARIES = {
    *("Core", "Gui", "Widgets", "Svg", "SvgWidgets", "DBus", "PrintSupport", "Network", "OpenGL", "OpenGLWidgets"),
    *("XcbQpa", "WaylandClient", "WlShellIntegration", "WaylandEglClientHwIntegration", "EglFSDeviceIntegration"),
}
QT_PLUGINS = {
    *("platforms", "imageformats", "iconengines", "styles", "platformthemes", "platforminputcontexts"),
    *("xcbglintegrations", "egldeviceintegrations", "printsupport", "generic"),
    *("wayland-shell-integration", "wayland-decoration-client", "wayland-graphics-integration-client"),
}
MAINTAINER = "The Pounce founders <pounce@localhost>"
ABOUT = """A pattern maker's bench
 Takes the part that is wanted and gives back a casting pattern that draws cleanly
 from the sand: scaled for the metal's contraction, judged for draft and undercuts,
 parted, split and written as print-ready halves, with core boxes, mould, feeders
 and pour planned, and a logbook that learns from the castings.
"""
# Nothing but the user's jobs stays: root may have compiled kernels into the package's own folder.
POSTRM = """#!/bin/sh
set -e
if [ "$1" = remove ] || [ "$1" = purge ]; then
  rm -rf /opt/pounce
fi
"""
LAUNCHER = """#!/opt/pounce/bin/python
from pounce.cli.entry import run

run()
"""


def closure() -> list[metadata.Distribution]:
    """Pounce's dependencies with theirs, as they are installed here."""
    seen: dict[str, metadata.Distribution] = {}
    ahead = ["pounce"]
    while ahead:
        name = re.sub(r"[-_.]+", "-", ahead.pop()).lower()
        if name in seen or name in LEFT_OUT:
            continue
        seen[name] = metadata.distribution(name)
        for line in metadata.requires(name) or []:
            wanted = Requirement(line)
            if wanted.marker is None or wanted.marker.evaluate({"extra": ""}):
                ahead.append(wanted.name)
    del seen["pounce"]
    return list(seen.values())


def vtk_wanted() -> set[str]:
    """Names of VTK's files that the bench loads: what its imports bring into a process."""
    source = "\n".join(path.read_text(encoding="utf-8") for path in (ROOT / "src").rglob("*.py"))
    modules = sorted(set(re.findall(r"^\s*(?:from|import) (vtkmodules\.[\w.]+)", source, re.MULTILINE)))
    code = "; ".join(f"import {one}" for one in modules) + "; print(open('/proc/self/maps').read())"
    done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
    return {Path(line.split()[-1]).name for line in done.stdout.splitlines() if "/vtk" in line and ".so" in line}


def qt_left_out(file: str) -> bool:
    """Whether a file of Qt is one that widgets on X or Wayland never load: Quick, media, and what hangs on them."""
    if "/Qt6/qml/" in file or "/Qt6/translations/" in file or "/bindings/" in file:
        return True
    plugin = re.search(r"/Qt6/plugins/([^/]+)/", file)
    if plugin:
        return plugin[1] not in QT_PLUGINS
    library = re.search(r"/lib/lib(Qt6)?(\w+?)[.-]", file)
    if library and "/Qt6/" in file:
        return library[2] not in QT_LIBRARIES and not library[2].startswith("icu")
    module = re.search(r"PyQt6/(Qt\w+)\.(?:abi3\.so|pyi)", file)
    return bool(module) and module[1].removeprefix("Qt") not in QT_LIBRARIES


def copy_packages(site: Path) -> None:
    """The locked packages' own files, less what is not loaded."""
    vtk = vtk_wanted()
    for one in closure():
        heavy = one.metadata["Name"].lower() == "vtk"
        for file in one.files or []:
            source = Path(str(one.locate_file(file)))
            outside = file.parts[0] == ".." or "__pycache__" in file.parts
            unused = heavy and ".so" in file.name and file.name not in vtk
            unused = unused or qt_left_out(f"/{file}")
            if outside or unused or not source.is_file():
                continue
            target = site / file
            target.parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(source, target)


def wheel_into(site: Path, work: Path) -> None:
    """Pounce itself, as its wheel has it."""
    words = [
        sys.executable,
        "-m",
        "pip",
        "wheel",
        "-q",
        "--no-deps",
        "--no-build-isolation",
        "-w",
        str(work),
        str(ROOT),
    ]
    subprocess.run(words, check=True)
    (wheel,) = work.glob("pounce-*.whl")
    with zipfile.ZipFile(wheel) as archive:
        archive.extractall(site)
    wheel.unlink()


def environment(stage: Path) -> None:
    """The virtual environment's frame: the system's Python by a link, the launcher, and compiled modules."""
    (stage / OPT / "bin").mkdir(parents=True)
    (stage / OPT / "bin/python").symlink_to(f"/usr/bin/{PYTHON}")
    (stage / OPT / "bin/pounce").write_text(LAUNCHER, encoding="utf-8")
    (stage / OPT / "bin/pounce").chmod(0o755)
    version = ".".join(map(str, sys.version_info[:3]))
    text = f"home = /usr/bin\ninclude-system-site-packages = false\nversion = {version}\n"
    (stage / OPT / "pyvenv.cfg").write_text(text, encoding="utf-8")
    compileall.compile_dir(stage / SITE, quiet=2, stripdir=str(stage), prependdir="/", workers=2)


def system_files(stage: Path) -> None:
    """Command, desktop entry, icon, type of job files, description, manual page, copyright, changes."""
    (stage / "usr/bin").mkdir(parents=True)
    (stage / "usr/bin/pounce").symlink_to("/opt/pounce/bin/pounce")
    for source, target in (
        (HERE / "pounce.desktop", "usr/share/applications/pounce.desktop"),
        (HERE / "pounce.svg", "usr/share/icons/hicolor/scalable/apps/pounce.svg"),
        (HERE / "pounce-mime.xml", "usr/share/mime/packages/pounce.xml"),
        (HERE / "pounce.metainfo.xml", "usr/share/metainfo/pounce.metainfo.xml"),
        (ROOT / "LICENSE", "usr/share/doc/pounce/copyright"),
    ):
        (stage / target).parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(source, stage / target)
        (stage / target).chmod(0o644)
    for source, target in (
        (ROOT / "docs/pounce.1", "usr/share/man/man1/pounce.1.gz"),
        (ROOT / "CHANGELOG.md", "usr/share/doc/pounce/changelog.gz"),
    ):
        (stage / target).parent.mkdir(parents=True, exist_ok=True)
        (stage / target).write_bytes(gzip.compress(source.read_bytes(), 9, mtime=0))


def control(stage: Path) -> None:
    """The package's own description."""
    architecture = subprocess.run(["dpkg", "--print-architecture"], check=True, capture_output=True, text=True)
    size = sum(path.lstat().st_size for path in stage.rglob("*") if path.is_file()) // 1024
    renamed = {"libglib2.0-0": "libglib2.0-0 | libglib2.0-0t64"}
    needs = [PYTHON, *(renamed.get(package, package) for _, package in libraries())]
    (stage / "DEBIAN").mkdir()
    (stage / "DEBIAN/control").write_text(
        f"Package: pounce\nVersion: {VERSION}\nSection: graphics\nPriority: optional\n"
        f"Architecture: {architecture.stdout.strip()}\nInstalled-Size: {size}\nMaintainer: {MAINTAINER}\n"
        f"Depends: {', '.join(needs)}\nDescription: {ABOUT}",
        encoding="utf-8",
    )
    (stage / "DEBIAN/postrm").write_text(POSTRM, encoding="utf-8")
    (stage / "DEBIAN/postrm").chmod(0o755)


def build(out: Path, fast: bool) -> Path:
    """Builds the package into the folder; its file. ``fast`` packs it hardly, to try it."""
    stage = out / "stage"
    shutil.rmtree(stage, ignore_errors=True)
    (stage / SITE).mkdir(parents=True)
    copy_packages(stage / SITE)
    wheel_into(stage / SITE, out)
    environment(stage)
    system_files(stage)
    control(stage)
    for folder in [stage, *(path for path in stage.rglob("*") if path.is_dir())]:
        folder.chmod(0o755)
    packing = ["-Zgzip", "-z1"] if fast else ["-Zxz", "-z3"]
    subprocess.run(["dpkg-deb", "--root-owner-group", *packing, "--build", str(stage), str(out)], check=True)
    shutil.rmtree(stage)
    (made,) = out.glob(f"pounce_{VERSION}_*.deb")
    return made


def main() -> None:
    """Reads the command line and builds."""
    parser = argparse.ArgumentParser(description="Build the Debian package.")
    parser.add_argument("out", type=Path)
    parser.add_argument("--fast", action="store_true", help="pack it hardly, to try it")
    given = parser.parse_args()
    given.out.mkdir(parents=True, exist_ok=True)
    made = build(given.out.resolve(), given.fast)
    print(f"{made} ({made.stat().st_size / 1e6:.0f} MB)")


if __name__ == "__main__":
    main()
