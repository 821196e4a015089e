#!/usr/bin/env bash
# 200 browsers on the stream of an application of its own on a database: soak-stream.sh DATABASE
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
DATABASE_URL="$(scripts/database.sh url | sed "s|/[^/]*\$|/$1|")"
export DATABASE_URL PORT="${PORT:-4293}"
DATA_DIR="$DATA_DIR/stream" WORKERS=1 node web/build-processes/supervise.js --built &
supervisor=$!
trap 'scripts/stop-process.sh "$supervisor"' EXIT
export BASE_URL="http://127.0.0.1:$PORT"
for _ in $(seq 300); do
  if curl -sf "$BASE_URL/api/v1/ready" >/dev/null && curl -sf "$BASE_URL/api/v1/feed" >/dev/null; then break; fi
  sleep 0.2
done
SERVER_PID="$(curl -sf "$BASE_URL/api/v1/processes" | grep -o '"kind":"server"[^}]*' | grep -o '"pid":[0-9]*' | tail -n1 | cut -d: -f2)"
export SERVER_PID
node --import tsx bench/src/stream.ts
