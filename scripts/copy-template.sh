#!/usr/bin/env bash
# Starts a cluster of its own in DATA_DIR and copies a database of another one into it: copy-template.sh URL_OF_OTHER_CLUSTER NAME
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
mkdir -p "$DATA_DIR"
scripts/database.sh start
bin="$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n1)"
url="$(scripts/database.sh fresh "$2")"
"$bin/pg_dump" --no-owner "$(sed "s|/[^/]*\$|/$2|" <<<"$1")" | "$bin/psql" -X -q -v ON_ERROR_STOP=1 "$url" >/dev/null
