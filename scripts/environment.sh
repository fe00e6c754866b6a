# Sourced by ./run and ./check: makes .venv once, and again when what it was made from changes.
# Needs ROOT. Offers: prepare_environment run|check, and the path VENV.
VENV="$ROOT/.venv"
OFFSCREEN_LIBRARIES="libglib2.0-0 libgl1 libegl1 libxkbcommon0 libfontconfig1 libdbus-1-3"
WINDOW_LIBRARIES="libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1 libxcb-shape0"

say() { printf 'homunculus: %s\n' "$*" >&2; }

# The distribution's own Python before others: it is built with all optimisations, which is a tenth of every figure's time.
find_python() {
  local candidate needs
  for needs in "import ensurepip" ""; do
    for candidate in /usr/bin/python3 python3.11 python3 python3.12 python3.13; do
      if command -v "$candidate" >/dev/null 2>&1 &&
         "$candidate" -c "import sys
$needs
sys.exit(not sys.version_info >= (3, 11))" 2>/dev/null; then
        printf '%s' "$candidate"; return 0
      fi
    done
  done
  return 1
}

# Debian packages by name: installed when root, otherwise the exact command is printed and we stop.
need_packages() {
  local missing=() name
  command -v dpkg-query >/dev/null 2>&1 || return 0   # not Debian: Qt itself will say what it misses
  for name in "$@"; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'install ok installed' ||
      dpkg-query -W -f='${Status}' "${name}t64" 2>/dev/null | grep -q 'install ok installed' || missing+=("$name")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" = 0 ]; then
    say "installing ${missing[*]}"
    { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >&2 ||
      { say "could not install them. By hand: apt-get install ${missing[*]}"; exit 1; }
  else
    say "some system libraries are missing. Install them, then start again:"
    say "  sudo apt-get install ${missing[*]}"
    exit 1
  fi
}

install_into_venv() {   # $1: what to install, e.g. ".[check]"
  if "$VENV/bin/python" -m pip install -q --disable-pip-version-check -c "$ROOT/constraints.txt" uv 2>/dev/null; then
    (cd "$ROOT" && "$VENV/bin/uv" pip install -q --python "$VENV/bin/python" -c constraints.txt -e "$1") && return 0
    say "the quick installer did not manage it; trying the plain one"
  fi
  (cd "$ROOT" && "$VENV/bin/python" -m pip install -q --disable-pip-version-check -c constraints.txt -e "$1")
}

prepare_environment() {   # $1: run or check
  local what="$1" stamp="$VENV/made-for-$1" extra="" python
  [ "$what" = check ] && extra="[check]"
  if ! { [ -f "$stamp" ] && cat "$ROOT/pyproject.toml" "$ROOT/constraints.txt" | cmp -s - "$stamp"; }; then
    need_packages $OFFSCREEN_LIBRARIES $WINDOW_LIBRARIES
    python="$(find_python)" || { need_packages python3 python3-venv; python="$(find_python)"; } ||
      { say "Python 3.11 or newer is needed and was not found."; exit 1; }
    if [ ! -x "$VENV/bin/python" ] || ! "$VENV/bin/python" -m pip --version >/dev/null 2>&1; then
      say "making the environment (once)"
      "$python" -m venv --clear "$VENV" >/dev/null 2>&1 ||
        { need_packages python3-venv; "$python" -m venv --clear "$VENV"; }
    fi
    say "installing packages (once)"
    install_into_venv ".$extra" || { say "the packages could not be installed; nothing was started."; exit 1; }
    "$VENV/bin/python" -m compileall -q -j 0 "$VENV/lib" "$ROOT/src" >/dev/null 2>&1 || true
    cat "$ROOT/pyproject.toml" "$ROOT/constraints.txt" > "$stamp"
    if [ "$what" = check ]; then cp "$stamp" "$VENV/made-for-run"; fi   # what checks also runs
  elif [ -n "$(find "$ROOT/src" -name '*.py' -newer "$stamp" -print -quit)" ]; then
    "$VENV/bin/python" -m compileall -q "$ROOT/src" >/dev/null 2>&1 || true
    touch "$stamp"
  fi
}
