#!/usr/bin/env bash
# Runs a command on a virtual display of its own, and ends the display with it.
set -euo pipefail
if ! command -v Xvfb >/dev/null 2>&1; then
  echo "No virtual display is installed. Install it with: sudo apt-get install --no-install-recommends xvfb" >&2
  exit 1
fi
exec {pipe}<> <(:)
Xvfb -displayfd "$pipe" -screen 0 1600x1000x24 -nolisten tcp -noreset >/dev/null 2>&1 &
server=$!
trap 'kill "$server" 2>/dev/null || true; wait "$server" 2>/dev/null || true' EXIT
if ! read -r -t 20 -u "$pipe" number; then
  echo "The virtual display did not start." >&2
  exit 1
fi
unset WAYLAND_DISPLAY
DISPLAY=":$number" QT_QPA_PLATFORM=xcb "$@"
