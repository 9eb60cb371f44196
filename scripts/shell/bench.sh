# `bench count` makes and drops its own tables in a cluster of its own; the others need none.
run_bench() {
  prepare_tools run
  ensure_built
  choose_data
  start_database "$DATA/bench" off
  # What the benchmark runs to begin with a database that has nothing in its memory.
  export CRINDLE_BENCH_RESTART="cd / && $(database_user_prefix) $PG_BIN/pg_ctl -D $DATA/bench/pg -m fast -w restart"
  trap 'stop_database "$DATA/bench"' EXIT
  node --max-old-space-size=12000 --enable-source-maps dist/server/bench.mjs "$@"
}
