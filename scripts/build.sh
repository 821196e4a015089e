#!/usr/bin/env bash
# Builds what has changed since the last build: build.sh processes, those beside the server; build.sh server, that too; without a word
# everything, with the files that browsers fetch compressed for networks.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
mkdir -p .data
# Several workers may start at once.
exec 8>.data/build.lock; flock 8
digest="$(find core/src market/src web/src web/scripts web/static web/*.ts web/*.js web/package.json package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)"
build() { # NAME RESULT: by the script build:NAME of web
  [ -f "$2" ] && [ "$(cat ".data/$1-stamp" 2>/dev/null)" = "$digest" ] && return 0
  local began=$SECONDS
  npm run --silent "build:$1" -w web >".data/build-$1.log" 2>&1 || { tail -n 60 ".data/build-$1.log" >&2; exit 1; }
  echo "$digest" >".data/$1-stamp"
  echo "built: $1, in $((SECONDS - began)) s"
}
build processes web/build-processes/worker.js
case "${1:-all}" in
  processes) ;;
  server) build server web/build/index.js ;;
  all) build server web/build/index.js; build compressed web/build/client/_app/version.json.br ;;
  *) echo "usage: build.sh [processes|server]" >&2; exit 2 ;;
esac
