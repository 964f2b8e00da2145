# Shared by start and test: what must be there before Jossel runs. Sourced, not run. Needs only bash, git and Node.js.
cd "$(dirname "${BASH_SOURCE[0]}")/.." || exit 1
ROOT=$PWD
say() { printf '%s\n' "$*"; }
fail() { printf 'Jossel: %s\n' "$*" >&2; exit 1; }

check_node() {
  command -v node >/dev/null || fail "Node.js is missing. Install version 20.19 or newer."
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    fail "Node.js $(node -v) is too old. Version 20.19 or newer is needed."
}

# need_debian PACKAGE TEST-COMMAND: installs a Debian package when the test fails.
need_debian() {
  eval "$2" && return 0
  local as=()
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null && sudo -n true 2>/dev/null || fail "The Debian package $1 is missing, and it can be installed neither as root nor through sudo. Run: sudo apt-get install $1"
    as=(sudo)
  fi
  command -v apt-get >/dev/null || fail "The program of the Debian package $1 is missing, and there is no apt-get here to install it with."
  say "Installing $1 …"
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$1" >/dev/null 2>&1 ||
    { "${as[@]}" apt-get update -qq && "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$1" >/dev/null; } ||
    fail "apt-get could not install $1. See its messages above."
  eval "$2" || fail "$1 was installed, but its program is still not found."
}

need_packages() {
  local mark=node_modules/.jossel-lock
  if ! cmp -s package-lock.json "$mark"; then
    say "Installing npm packages …"
    npm ci --no-audit --no-fund --loglevel=error || fail "npm ci failed. See its messages above."
    cp package-lock.json "$mark"
  fi
}

need_build() {
  local mark=server/dist/.built
  if [ ! -f "$mark" ] || [ -n "$(find core server web demo standins script package-lock.json \( -name node_modules -o -name dist -o -name samples \) -prune -o -type f ! -name '*.test.ts' -newer "$mark" -print -quit)" ]; then
    say "Building …"
    npm run --silent build || fail "The build failed. See its messages above."
    touch "$mark"
  fi
}
