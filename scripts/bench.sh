#!/usr/bin/env bash
# Runs parts of the bench, bundled as the application's processes are: bench.sh [PART]...
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
scripts/build.sh processes
npx esbuild bench/src/run.ts --bundle --platform=node --format=esm --target=node20 --log-level=warning \
  --external:postgres --external:drizzle-orm --external:@playwright/test --external:piscina --outfile=bench/build/run.js
exec node bench/build/run.js "$@"
