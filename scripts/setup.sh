#!/usr/bin/env bash
# Sets up all that is missing: system libraries, the virtual environment, the locked packages, the compiled kernels.
# Runs in a second when nothing is missing. `scripts/setup.sh --display` also wants a virtual display.
set -euo pipefail
cd "$(dirname "$0")/.."

say() { printf '%s\n' "$*" >&2; }

python=""
for candidate in "${POUNCE_PYTHON:-}" python3.11 python3.12 python3.13 python3; do
  [ -n "$candidate" ] && command -v "$candidate" >/dev/null 2>&1 || continue
  if "$candidate" -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] <= (3, 13))' 2>/dev/null; then
    python=$candidate
    break
  fi
done

# What the desktop needs of the system: one list, which `pounce doctor` and the Debian package read too.
wanted=$(grep -v '^#' src/pounce/base/libraries.txt)
known=$( (ldconfig -p 2>/dev/null || /sbin/ldconfig -p) | awk '{print $1}')
missing=""
while read -r library package; do
  [ -n "$library" ] || continue
  grep -qxF "$library" <<<"$known" || missing="$missing $package"
done <<<"$wanted"
[ -n "$python" ] || missing="$missing python3"
if [ -n "$python" ] && [ ! -d .venv ] && ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
  missing="$missing python3-venv"
fi
if [ "${1:-}" = "--display" ] && [ -z "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ] && ! command -v Xvfb >/dev/null 2>&1; then
  missing="$missing xvfb"
fi
if [ -n "$missing" ]; then
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    say "Installing what is missing on this system:$missing"
    export DEBIAN_FRONTEND=noninteractive
    apt-get update -qq
    for package in $missing; do
      # some releases call the first one libglib2.0-0t64
      apt-get install -y -qq --no-install-recommends "$package" >/dev/null || \
        apt-get install -y -qq --no-install-recommends "${package}t64" >/dev/null
    done
    [ -n "$python" ] || python=python3
  else
    say "Some system libraries are missing. Install them with this line, then try again:"
    say "  sudo apt-get install --no-install-recommends$missing"
    exit 1
  fi
fi
if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
  say "Pounce needs Python 3.11 or newer; this system has $("$python" --version)."
  exit 1
fi

stamp=$(cat requirements.lock pyproject.toml scripts/setup.sh | sha256sum | cut -d' ' -f1)
if [ ! -x .venv/bin/python ] || [ "$(cat .venv/.pounce-setup 2>/dev/null || true)" != "$stamp" ]; then
  say "Setting up the virtual environment (some minutes the first time)."
  [ -x .venv/bin/python ] || "$python" -m venv .venv
  .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements.lock
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
  .venv/bin/python scripts/make_handbook.py >&2
  say "Compiling the geometry kernels once."
  .venv/bin/python -m pounce.route.warm
  echo "$stamp" > .venv/.pounce-setup
fi
