#!/usr/bin/env bash
# Runs a command again whenever it ends, until told to stop or left alone by whoever started it: keep-running.sh COMMAND...
# PID_FILE, when set, gets the command's process.
child=
trap 'kill "$child" 2>/dev/null; wait "$child" 2>/dev/null; exit 0' TERM INT
while kill -0 "$PPID" 2>/dev/null; do
  "$@" &
  child=$!
  [ -z "${PID_FILE:-}" ] || echo "$child" >"$PID_FILE"
  wait "$child"
  sleep 1
done
