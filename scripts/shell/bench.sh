run_bench() {
  prepare_tools run
  ensure_built
  exec node scripts/bench.mjs "$@"
}
