#!/usr/bin/env bash
# Installs what is missing: install.sh run|all DEBIAN_PACKAGE... (given as package=file-that-proves-it), then the npm packages: those
# that the application is built and runs with, or all. What the installers say is in .data/install.log.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
command -v node >/dev/null || { echo "Node 20 is needed and not on the path." >&2; exit 1; }
node -e 'process.exit(process.versions.node.startsWith("20.") ? 0 : 1)' || { echo "Node 20 is needed; this is $(node --version)." >&2; exit 1; }
kind="$1"; shift
mkdir -p .data
log="$PWD/.data/install.log"
# Says how a command is getting on, from what it prints, and, where it fails, the end of that.
step() { # WHAT PATTERN COMMAND...: lines that match the pattern are counted
  local what="$1" pattern="$2" pid began=$SECONDS counted; shift 2
  echo "== $what" >>"$log"
  local from; from="$(wc -l <"$log")"
  "$@" >>"$log" 2>&1 &
  pid=$!
  while kill -0 "$pid" 2>/dev/null; do
    sleep 1
    counted="$(tail -n +"$((from + 1))" "$log" | grep -cE "$pattern" || true)"
    if [ -t 1 ]; then printf '\r%s: %s, %s s ' "$what" "$counted" "$((SECONDS - began))"
    elif [ "$(((SECONDS - began) % 15))" = 14 ]; then echo "$what: $counted, $((SECONDS - began)) s"; fi
  done
  [ ! -t 1 ] || printf '\r\033[K'
  wait "$pid" || { echo "$what failed; the end of $log:" >&2; tail -n 30 "$log" >&2; exit 1; }
  echo "$what: done in $((SECONDS - began)) s"
}
missing=()
for pair in "$@"; do
  compgen -G "${pair#*=}" >/dev/null || missing+=("${pair%%=*}")
done
if [ "${#missing[@]}" -gt 0 ]; then
  if [ "$(id -u)" -eq 0 ]; then privileged() { "$@"; }
  elif command -v sudo >/dev/null; then privileged() { sudo "$@"; }
  else echo "These Debian packages are needed: ${missing[*]}. Install them as root, or run this as root or with sudo installed." >&2; exit 1; fi
  echo "installing Debian packages: ${missing[*]} (what apt says: $log)"
  # The package would start a cluster of its own, which nobody needs here.
  privileged mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] || echo 'create_main_cluster = false' | privileged tee /etc/postgresql-common/createcluster.conf >/dev/null
  step 'lists of packages' '^(Get|Hit):' privileged apt-get update
  step 'Debian packages unpacked' '^Unpacking' privileged env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends "${missing[@]}"
fi
# What is there of all packages serves who needs a part.
wanted="$(sha256sum package-lock.json | cut -d' ' -f1) $(node --version)"
has="$(cat .data/npm-stamp 2>/dev/null || true)"
if [ ! -d node_modules ] || { [ "$has" != "all $wanted" ] && [ "$has" != "$kind $wanted" ]; }; then
  if [ "$kind" = all ]; then omit=; else omit=--omit=dev; fi
  echo "installing npm packages (what npm says: $log)"
  rm -f .data/npm-stamp
  # Packages' own scripts fetch and build what none of them needs here; what was fetched before is not asked for again.
  step 'npm packages fetched' 'http fetch GET 200' npm ci $omit --ignore-scripts --prefer-offline --no-audit --no-fund --loglevel=http
  echo "$kind $wanted" >.data/npm-stamp
fi
