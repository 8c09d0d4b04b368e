# Shared by the commands in this folder: what must be installed, the environment, the private database.
set -euo pipefail
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
started_in=$PWD; cd "$root"
unset PYTHONDONTWRITEBYTECODE  # compiling anew costs each start as long again as everything else
say() { printf '%s\n' "grimcoil: $*" >&2; }
give_up() { say "$*"; exit 1; }

# install_packages NAME... : installs the missing Debian packages, saying so first.
install_packages() {
  local missing=() name
  for name in "$@"; do dpkg-query -W -f '${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || missing+=("$name"); done
  [ ${#missing[@]} -eq 0 ] && return 0
  local line="apt-get install -y --no-install-recommends ${missing[*]}"
  say "installing Debian packages: ${missing[*]}"
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then as=(sudo)
    else give_up "these need root. Run this once, then start again:  sudo sh -c 'apt-get update && $line'"; fi
  fi
  "${as[@]}" apt-get update -qq >/dev/null || say "apt-get update failed; trying with the lists at hand"
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive $line >/dev/null || give_up "that failed. Run by hand to see why:  $line"
}

database_packages=(mariadb-server-core mariadb-client)
build_packages=(libmariadb-dev pkg-config gcc libpango-1.0-0 libpangoft2-1.0-0)

python_packages() {
  # Debian's own Python needs its headers and venv as packages; another Python brings both.
  case "$(readlink -f "$(command -v python3)")" in /usr/bin/*) echo python3-dev python3-venv libc6-dev;; esac
}

# make_environment LOCK : a virtual environment that holds exactly what the lock file names.
make_environment() {
  local lock=$1 mark=.venv/.installed want
  want=$(cat requirements-dev.lock requirements.lock | sha256sum | cut -d' ' -f1)
  if [ -f "$mark" ] && { [ "$(cat "$mark")" = "dev $want" ] || [ "$(cat "$mark")" = "$lock $want" ]; }; then return 0; fi
  exec 8>.venv.lock; flock 8
  if [ -f "$mark" ] && { [ "$(cat "$mark")" = "dev $want" ] || [ "$(cat "$mark")" = "$lock $want" ]; }; then exec 8>&-; return 0; fi
  local file=requirements.lock; [ "$lock" = dev ] && file=requirements-dev.lock
  say "making the Python environment in .venv from $file (about half a minute)"
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || give_up "Python 3.11 or newer is needed, found $(python3 -V)"
  [ -x .venv/bin/python ] && .venv/bin/python -c '' 2>/dev/null || { rm -rf .venv; python3 -m venv .venv || give_up "python3 -m venv failed; on Debian: apt-get install python3-venv"; }
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-input --require-hashes -r "$file" 8>&- \
    || give_up "installing from $file failed; the lines above say why. Start again to go on from here."
  echo "$lock $want" >"$mark"
  exec 8>&-
}

free_port() { .venv/bin/python -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }
