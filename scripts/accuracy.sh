#!/usr/bin/env bash
# Holds the derivation of surfaces against markets of known truth: accuracy.sh [PATTERN], all of them into docs/accuracy.md.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
node bench/build.js
if [ -n "${1:-}" ]; then exec node bench/build/accuracy.js "$1"; fi
node bench/build/accuracy.js '' docs/accuracy.md
node_modules/.bin/prettier --write --log-level warn docs/accuracy.md
