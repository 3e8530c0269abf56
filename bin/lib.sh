# Shared by the commands in bin/. Sourced, not run.

set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

say() { printf '\n== %s\n' "$*"; }
die() { printf '\nerror: %s\n' "$*" >&2; exit 1; }

# Debian packages that are missing are installed: as root directly, else through sudo.
need_packages() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  say "installing from Debian: ${missing[*]}"
  command -v apt-get >/dev/null || die "apt-get is not here. Install by hand: ${missing[*]}"
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || die "not root and no sudo. Ask somebody to run: apt-get install ${missing[*]}"
    as=(sudo)
  fi
  exec 8>/tmp/rigore-packages.lock && chmod 666 /tmp/rigore-packages.lock 2>/dev/null || true
  flock 8
  # A PostgreSQL of the system's own is not needed: the package must not start one.
  "${as[@]}" mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] ||
    echo 'create_main_cluster = false' | "${as[@]}" tee /etc/postgresql-common/createcluster.conf >/dev/null
  "${as[@]}" apt-get update -q || die "apt-get update failed; is the network there?"
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "${missing[@]}" ||
    die "installing failed. By hand: apt-get install ${missing[*]}"
  flock -u 8
}

need_tools() {
  command -v cargo >/dev/null || die "Rust is not here (cargo not found)"
  command -v node >/dev/null && command -v npm >/dev/null || die "Node is not here (node or npm not found)"
}

# Builds the `rigore` command by a profile of Cargo.toml (demo, release). Cargo shows how far it is.
build_rigore() {
  local usual="where it changed"
  if [ ! -e "target/$1/rigore" ]; then
    case $1 in
      demo) usual="about eight minutes on two cores, this first time" ;;
      *) usual="about eleven minutes on two cores, this first time" ;;
    esac
  fi
  say "building Rigore: $usual"
  cargo build --profile "$1" --package rigore-server --bin rigore || die "building Rigore failed"
}

# What makes the Debian package, built where it is not there yet.
need_cargo_deb() {
  [ -x target/tools/bin/cargo-deb ] && return
  say "building cargo-deb"
  env -u RUSTC_WORKSPACE_WRAPPER \
    cargo install --quiet --locked --debug --root target/tools --target-dir target/tools cargo-deb --version "~3.8" ||
    die "cargo-deb could not be built"
}

# Builds web/dist where a source is newer than it. One at a time: demo and test may run together.
build_web() {
  mkdir -p .data
  exec 9>.data/web.lock
  flock 9
  if [ ! -e web/node_modules/.package-lock.json ] || [ web/package-lock.json -nt web/node_modules/.package-lock.json ]; then
    say "installing the web part's packages"
    npm --prefix web ci --no-audit --no-fund --loglevel=error || die "npm ci failed"
    touch web/node_modules/.package-lock.json
  fi
  if [ ! -e web/dist/index.html ] || [ -n "$(find texts web/src web/public web/index.html web/package-lock.json web/vite.config.ts -newer web/dist/index.html -print -quit)" ]; then
    say "building the web part"
    npm --prefix web run --silent build || die "building the web part failed"
    touch web/dist/index.html
  fi
  flock -u 9
}

# A folder of this checkout that a private PostgreSQL can live in: started by root, it runs as its own user, who has to
# be able to enter the folder. Prints the folder.
own_folder() {
  local data=$PWD/$1
  if [ "$(id -u)" -eq 0 ] && [ -z "${DATABASE_URL:-}" ]; then
    mkdir -p "$data" && chmod a+x "$data"
    if ! runuser -u postgres -- test -x "$data"; then
      data=/var/lib/rigore/$(printf %s "$data" | sha256sum | cut -c1-12)
      mkdir -p "$data"
      say "this folder is closed to the database's user; data is kept in $data" >&2
    fi
  fi
  printf %s "$data"
}
