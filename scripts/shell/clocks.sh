# The unit and database tests once more under other clocks, for Node and for PostgreSQL alike: a check must not hang on the day.

# Name, instant (UTC; "tomorrow" and the like are reckoned from now), time zone of the machine.
CLOCKS='tomorrow|tomorrow|UTC
in-40-days|40 days|UTC
leap-day|2028-02-29 11:00|UTC
before-midnight|23:55|UTC
after-midnight|tomorrow 00:05|UTC
clocks-go-back|2026-11-01 05:58|America/New_York
clocks-go-forward|2027-03-14 06:58|America/New_York'

clock_names() { printf '%s\n' "$CLOCKS" | cut -d'|' -f1; }

clock_field() { printf '%s\n' "$CLOCKS" | grep "^$1|" | cut -d'|' -f"$2"; }

faketime_library() { find /usr/lib -name libfaketimeMT.so.1 2>/dev/null | head -n 1; }

# move_clock SECONDS ZONE: for the commands that are run through it, until put_back. Waiting takes as long as ever: only the time of day
# is another.
move_clock() {
  local seconds=$1
  [ "$seconds" -lt 0 ] || seconds="+$seconds"
  MOVED="TZ=$2 FAKETIME=${seconds}s FAKETIME_DONT_FAKE_MONOTONIC=1 LD_PRELOAD=$(faketime_library)"
}

put_back() { MOVED=''; }

# run_clock NAME: a cluster of its own that lives under the clock, and the tests against it.
run_clock() {
  local cluster=$DATA/clocks/$1 seconds zone code=0
  zone=$(clock_field "$1" 3)
  [ -n "$zone" ] || fail "There is no clock \"$1\"; there are $(clock_names | tr '\n' ' ')"
  seconds=$(($(date -u -d "$(clock_field "$1" 2) UTC" +%s) - $(date +%s)))
  rm -rf "$cluster"
  mkdir -p "$cluster"
  move_clock "$seconds" "$zone"
  start_database "$cluster" off
  let_crindle_everything "$cluster"
  env $MOVED node scripts/migrate.mjs >/dev/null || code=$?
  [ $code != 0 ] || say "Under the clock \"$1\": $(env $MOVED date)"
  [ $code != 0 ] || env $MOVED node scripts/checks/main.mjs unit database || code=$?
  put_back
  stop_database "$cluster"
  rm -rf "$cluster"
  return $code
}

# run_clocks [NAME...]: one clock after the other, closing with the sum of all.
run_clocks() {
  prepare_tools test
  ensure_built
  choose_data
  local name passed=0 failed=0 log
  log=$(mktemp)
  for name in ${*:-$(clock_names)}; do
    run_clock "$name" 2>&1 | tee "$log" || true
    local counts
    counts=$(grep -E '^[0-9]+ passed, [0-9]+ failed$' "$log" | tail -n 1)
    # A run that never came to its last line has failed.
    [ -n "$counts" ] || counts='0 passed, 1 failed'
    passed=$((passed + ${counts%% *}))
    failed=$((failed + $(printf '%s' "$counts" | cut -d' ' -f3)))
    say "   $name: $counts"
  done
  rm -f "$log"
  printf '\n%s passed, %s failed\n' "$passed" "$failed"
  [ "$failed" = 0 ]
}
