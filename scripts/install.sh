#!/usr/bin/env bash
# Installs what is missing: install.sh DEBIAN_PACKAGE... (given as package=file-that-proves-it), then the npm packages.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
command -v node >/dev/null || { echo "Node 20 is needed and not on the path." >&2; exit 1; }
node -e 'process.exit(process.versions.node.startsWith("20.") ? 0 : 1)' || { echo "Node 20 is needed; this is $(node --version)." >&2; exit 1; }
missing=()
for pair in "$@"; do
  compgen -G "${pair#*=}" >/dev/null || missing+=("${pair%%=*}")
done
if [ "${#missing[@]}" -gt 0 ]; then
  if [ "$(id -u)" -eq 0 ]; then privileged() { "$@"; }
  elif command -v sudo >/dev/null; then privileged() { sudo "$@"; }
  else echo "These Debian packages are needed: ${missing[*]}. Install them as root, or run this as root or with sudo installed." >&2; exit 1; fi
  echo "installing Debian packages: ${missing[*]}"
  # The package would start a cluster of its own, which nobody needs here.
  privileged mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] || echo 'create_main_cluster = false' | privileged tee /etc/postgresql-common/createcluster.conf >/dev/null
  privileged apt-get update -qq >/dev/null
  privileged env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi
mkdir -p .data
wanted="$(sha256sum package-lock.json | cut -d' ' -f1) $(node --version)"
if [ ! -d node_modules ] || [ "$(cat .data/npm-stamp 2>/dev/null)" != "$wanted" ]; then
  echo "installing npm packages"
  npm ci --no-audit --no-fund --loglevel=error
  echo "$wanted" >.data/npm-stamp
fi
