#!/usr/bin/env bash
# keepDatabase.sh CLUSTER: starts PostgreSQL again, on the port it had, when it was ended by nobody who may.
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
for file in "$ROOT"/scripts/shell/*.sh; do
  # shellcheck source=/dev/null
  . "$file"
done
choose_data
trap 'exit 0' TERM INT
port=$(database_port "$1")
times=0
while :; do
  sleep 0.5 &
  wait $!
  database_runs "$1" && continue
  times=$((times + 1))
  say "The database ended; it is started again"
  if run_database "$1" "$port" on; then
    printf '%s %s 137 runs\n' "$times" "$(date +%s)" >"$RUN/database.restarts"
  else
    printf '%s %s 1 ended\n' "$times" "$(date +%s)" >"$RUN/database.restarts"
    tail -n 3 "$1/pg/server.log" >&2
  fi
done
