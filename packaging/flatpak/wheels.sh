#!/usr/bin/env bash
# Gathers what the Flatpak is built from, without a network later: Pounce's own wheel, and the locked packages as wheels
# for the runtime's Python. Then: flatpak-builder build/flatpak/app packaging/flatpak/local.pounce.Pounce.json
set -euo pipefail
cd "$(dirname "$0")/../.."
python=${RUNTIME_PYTHON:-3.12}
out=build/flatpak/wheels
rm -rf "$out"
mkdir -p "$out"
.venv/bin/python -m pip wheel -q --no-deps --no-build-isolation -w "$out" .
.venv/bin/python -m pip download -q --only-binary=:all: --python-version "$python" -d "$out" "$out"/pounce-*.whl
ls "$out" | wc -l
