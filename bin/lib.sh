# Shared by the scripts in bin/: paths and messages. Sourced, never run.
set -euo pipefail
ROOT=$(cd -P "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
LOCAL=$ROOT/.local
VENV=$ROOT/.venv
mkdir -p "$LOCAL"
# Some machines turn off Python's bytecode cache; every process would then compile all modules again.
unset PYTHONDONTWRITEBYTECODE

say() { printf '\033[1m· %s\033[0m\n' "$*"; }
fail() { printf '\033[31m%s\033[0m\n' "$*" >&2; exit 1; }

# Runs a command as root, or prints the command that the user has to run.
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "This needs root once, and there is no sudo here. Have an administrator run:  $*"
  fi
}

# The first working Python 3.11 on this machine, or nothing.
python311() {
  local p
  for p in python3.11 python3 /usr/bin/python3.11; do
    if "$p" -c 'import sys, venv, ensurepip; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null; then
      command -v "$p"; return 0
    fi
  done
  return 1
}

pg_bin() { # The folder of the newest PostgreSQL server programs that Debian installed.
  ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | while read -r d; do [ -x "$d/initdb" ] && echo "$d"; done | tail -1
}
