#!/usr/bin/env bash
# Builds the application when its sources have changed since the last build.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
digest="$(find core/src market/src web/src web/static web/*.ts web/*.js web/package.json package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)"
if [ ! -f web/build/index.js ] || [ "$(cat .data/build-stamp 2>/dev/null)" != "$digest" ]; then
  echo "building"
  npm run --silent build >.data/build.log 2>&1 || { tail -n 60 .data/build.log >&2; exit 1; }
  mkdir -p .data && echo "$digest" >.data/build-stamp
fi
