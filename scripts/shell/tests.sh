# Every check, on a database cluster and a running stack of its own, so that a demo beside it is left alone.
run_tests() { # names of checks; none: all but the late ones; `all`, `changed`. `clocks` and `faults` are commands of their own.
  if [ "${1:-}" = clocks ]; then
    shift
    run_clocks "$@"
    return
  fi
  if [ "${1:-}" = faults ]; then
    shift
    run_faults "$@"
    return
  fi
  prepare_tools test
  ensure_built
  choose_data
  local data=$DATA/test
  mkdir -p "$data"
  rm -rf "$data/db"
  trap 'stop_database "$DATA/test/db"; for stack in "$DATA"/test/stack/*/; do [ ! -d "$stack" ] || CRINDLE_DATA="${stack%/}" "$ROOT/crindle" stop; done' EXIT
  start_database "$data/db" off
  let_crindle_everything "$data/db"
  node scripts/migrate.mjs >/dev/null
  CRINDLE_STACK_DATA="$data/stack" node scripts/checks/main.mjs "$@"
}
