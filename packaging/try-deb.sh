#!/usr/bin/env bash
# Builds the Debian package, installs it in a bare Debian of its own, runs it there as a plain user, takes it away
# again, and says what each step took. Nothing of this machine but its package sources goes in. Wants root.
set -euo pipefail
cd "$(dirname "$0")/.."
[ "$(id -u)" = 0 ] || { echo "This wants root, for debootstrap and chroot." >&2; exit 1; }
work=${TRY_DEB:-build/deb}
mkdir -p "$work"
root=$(readlink -f "$work")/root
[ -n "$(ls "$work"/pounce_*.deb 2>/dev/null)" ] || .venv/bin/python packaging/deb.py "$work" --fast
missing=""
for tool in debootstrap desktop-file-validate appstreamcli lintian; do
  command -v "$tool" >/dev/null 2>&1 || missing="$missing $tool"
done
if [ -n "$missing" ]; then
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends debootstrap desktop-file-utils appstream lintian >/dev/null
fi
. /etc/os-release
# where this machine's own base system comes from
mirror=$(apt-cache policy base-files | awk '/^ +[0-9]+ [a-z+]+:/ {print $2; exit}')

began=$SECONDS
took() { printf '%4d s  %s\n' $((SECONDS - began)) "$*"; began=$SECONDS; }
leave() { umount -q "$root/proc" "$root/dev/shm" "$root/dev" 2>/dev/null || true; }
trap leave EXIT

rm -rf "$root"
debootstrap --variant=minbase "$VERSION_CODENAME" "$root" "$mirror" > "$work/debootstrap.log" 2>&1
cp /etc/resolv.conf "$root/etc/resolv.conf"
cp -r /etc/apt/apt.conf.d/. "$root/etc/apt/apt.conf.d/"
[ -d /etc/ssl/certs ] && mkdir -p "$root/etc/ssl" && cp -rL /etc/ssl/certs "$root/etc/ssl/" 2>/dev/null || true
mount -t proc proc "$root/proc" 2>/dev/null || true
mkdir -p "$root/dev/shm" && mount -t tmpfs tmpfs "$root/dev/shm" 2>/dev/null || true
took "a bare $VERSION_CODENAME"

inside() { chroot "$root" env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin HOME=/root DEBIAN_FRONTEND=noninteractive LANG=C.UTF-8 "$@"; }
as_user() { inside setpriv --reuid=1000 --regid=1000 --clear-groups env HOME=/home/maker USER=maker "$@"; }
inside find / -xdev \( -path /proc -o -path /dev \) -prune -o -print | sort > "$work/before.txt"
inside apt-get update -qq
cp "$work"/pounce_*.deb "$root/pounce.deb"
inside apt-get install -y -qq --no-install-recommends /pounce.deb > "$work/install.log" 2>&1
rm "$root/pounce.deb"
took "installed, with what it needs of the system"

inside useradd -m -u 1000 maker
as_user pounce --version
as_user pounce doctor || true
took "doctor"
as_user sh -c 'cd && cp /opt/pounce/lib/python3*/site-packages/pounce/route/demo/vent-quadrant-arm.3mf . && pounce build vent-quadrant-arm.3mf --plan --out first' > "$work/build.log"
as_user sh -c 'cd && ls first | head -40'
took "a part to files by one line, kernels compiled on the way"
as_user sh -c 'cd && pounce check vent-quadrant-arm.3mf --json > checked.json && pounce demo --pictures pictures && ls pictures'
took "a check, and the desktop with every view drawn"

cp packaging/first_pattern.py "$root/home/maker/first_pattern.py"
as_user sh -c 'cd && QT_QPA_PLATFORM=offscreen /opt/pounce/bin/python first_pattern.py guided && rm first_pattern.py'
took "the guided first pattern, by keyboard, to its files"

inside apt-get purge -y -qq pounce > "$work/remove.log" 2>&1
left=$(inside find / -xdev \( -path /proc -o -path /dev -o -path /home \) -prune -o -iname '*pounce*' -print)
if [ -n "$left" ]; then
  echo "Left behind: $left" >&2
  exit 1
fi
took "taken away; of the user's there is still: $(inside ls -A /home/maker | tr '\n' ' ')"
desktop-file-validate packaging/pounce.desktop
appstreamcli validate --no-net packaging/pounce.metainfo.xml
took "desktop entry and description are valid"
leave
rm -rf "$root"
