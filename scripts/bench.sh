#!/usr/bin/env bash
# Runs parts of the bench, bundled as the application's processes are: bench.sh [PART]...
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
scripts/build.sh processes
node bench/build.js
exec node bench/build/run.js "$@"
