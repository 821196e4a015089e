#!/usr/bin/env bash
# Ends a process: asks first, insists after five seconds.
kill "$1" 2>/dev/null || exit 0
for _ in $(seq 50); do
  # A zombie waits only for its parent to look.
  case "$(ps -o stat= -p "$1" 2>/dev/null)" in '' | Z*) exit 0 ;; esac
  sleep 0.1
done
kill -9 "$1" 2>/dev/null || true
