# Every check, on a database cluster and a running stack of its own, so that a demo beside it is left alone.
run_tests() { # names of checks; none: all
  prepare_tools test
  ensure_built
  choose_data
  local data=$DATA/test
  mkdir -p "$data"
  rm -rf "$data/db"
  trap 'stop_database "$DATA/test/db"; CRINDLE_DATA="$DATA/test/stack" "$ROOT/crindle" stop' EXIT
  start_database "$data/db" off
  node scripts/migrate.mjs >/dev/null
  CRINDLE_STACK_DATA="$data/stack" node scripts/checks.mjs "$@"
}
