# A cluster of their own, which may be killed in the middle, for what measures and for what breaks.
start_own_database() { # name
  choose_data
  start_database "$DATA/$1" on
  [ ! -s "$DATA/$1/keeper-secret" ] || let_crindle_everything "$DATA/$1"
  # What begins with a database that has nothing in its memory.
  export CRINDLE_BENCH_RESTART="cd / && $(database_user_prefix) $PG_BIN/pg_ctl -D $DATA/$1/pg -m fast -w restart"
  # And what makes it die in the middle: it cannot start again until its orphans have ended.
  export CRINDLE_BENCH_KILL="kill -9 \$(head -n 1 $DATA/$1/pg/postmaster.pid); for try in \$(seq 100); do ($CRINDLE_BENCH_RESTART) && exit 0; sleep 0.2; done; exit 1"
  trap 'stop_database "$DATA/'"$1"'"' EXIT
}

# The collector under kills, mutated requests, floods, a database in trouble, and clocks that are off.
run_faults() {
  local small=""
  case " $* " in *" --small "*) small=-small ;; esac
  prepare_tools run
  ensure_built
  start_own_database "faults$small"
  node --enable-source-maps dist/server/faults.mjs "$@"
}

# `bench count` and `bench collect` make and drop their own tables in a cluster of its own; the others need none.
run_bench() {
  local names=" $* " small=""
  case "$names" in *" --small "*) small=-small ;; esac
  case "${names// --small/}" in *" studio "* | " " | "  ") prepare_tools test ;; *) prepare_tools run ;; esac
  ensure_built
  start_own_database "bench$small"
  # `bench studio` has a demo of its own, so that one beside it is left alone.
  export CRINDLE_BENCH_STACK="$DATA/bench-stack$small"
  node --max-old-space-size=12000 --enable-source-maps dist/server/bench.mjs "$@"
}
