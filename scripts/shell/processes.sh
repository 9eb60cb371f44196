# Starts and ends the processes. Each is the leader of a process group of its own, so that its children end with it.

SERVICES="collector worker analysis standins studio site visitors"

# A pid file counts only while its process is still the one that was started: the start time guards against a reused pid.
# A process may put blanks into its own name, which stands in brackets before the numbers. One that is dead but not yet
# taken note of by its parent (Z) is not running.
process_mark() { sed 's/.*) //' "/proc/$1/stat" 2>/dev/null | awk '$1 != "Z" {print $20}'; }

is_running() { # name
  local pid mark
  [ -f "$RUN/$1.pid" ] || return 1
  read -r pid mark <"$RUN/$1.pid" || return 1
  [ -n "$mark" ] && [ "$(process_mark "$pid")" = "$mark" ]
}

start_service() { # name port command...
  local name=$1 port=$2 pid
  shift 2
  rm -f "$RUN/$name.restarts"
  # What is said there may name people.
  (umask 077 && : >>"$RUN/$name.log") && chmod 600 "$RUN/$name.log"
  PORT=$port KEEP_ASK=$(asked_at "$name") KEEP_LOG=$RUN/$name.log \
    setsid "$ROOT/scripts/keep.sh" "$RUN/$name.restarts" "$@" >>"$RUN/$name.log" 2>&1 </dev/null 9>&- &
  note_started "$name" $!
  printf '%s' "$port" >"$RUN/$name.port"
}

note_started() { printf '%s %s\n' "$2" "$(process_mark "$2")" >"$RUN/$1.pid"; } # name pid

# Where it says that it is alive; the visitors of the demo answer nobody.
asked_at() { # name
  case $1 in
    visitors) ;;
    studio) printf '/sign-in' ;;
    *) printf '/health' ;;
  esac
}

# Whoever ends PostgreSQL but us does not end Crindle.
keep_database() { # cluster
  is_running database && return
  rm -f "$RUN/database.restarts"
  setsid "$ROOT/scripts/keepDatabase.sh" "$1" >>"$RUN/database.log" 2>&1 </dev/null 9>&- &
  note_started database $!
}

stop_service() { # name
  if is_running "$1"; then
    local pid
    read -r pid _ <"$RUN/$1.pid"
    kill -TERM "-$pid" 2>/dev/null || true
    for _ in $(seq 50); do
      is_running "$1" || break
      sleep 0.1
    done
    is_running "$1" && kill -KILL "-$pid" 2>/dev/null
  fi
  rm -f "$RUN/$1.pid"
}

stop_everything() {
  choose_data
  for name in visitors site studio standins analysis worker collector database; do stop_service "$name"; done
  stop_database "$DATA/db"
}

# What a process ends with whose port is another's (src/server/http/ports.ts).
PORT_TAKEN=98

# Whether it runs itself, and not only whoever starts it again.
is_up() { ! [ -f "$RUN/$1.restarts" ] || [[ "$(cat "$RUN/$1.restarts")" = *" runs" ]]; } # name

restarts_in_words() { # name
  local times at code now
  [ -f "$RUN/$1.restarts" ] || return 0
  read -r times at code now <"$RUN/$1.restarts"
  [ "$times" = 1 ] && times=once || times="$times times"
  printf ', started again %s, last at %s after it ended with %s' "$times" "$(date -d "@$at" '+%F %T')" "$code"
  [ "$code" != $PORT_TAKEN ] || printf ': another program has its port'
}

print_status() {
  choose_data
  for name in $SERVICES; do
    if is_running "$name" && ! is_up "$name"; then
      printf '%-10s does not run just now%s\n' "$name" "$(restarts_in_words "$name")"
    elif is_running "$name"; then
      printf '%-10s runs on http://127.0.0.1:%s%s\n' "$name" "$(cat "$RUN/$name.port")" "$(restarts_in_words "$name")"
    else
      printf '%-10s is not running\n' "$name"
    fi
  done
  if [ -d "$DATA/db/pg" ] && database_runs "$DATA/db"; then
    printf '%-10s runs, data in %s%s\n' database "$DATA/db" "$(restarts_in_words database)"
  else
    printf '%-10s is not running\n' database
  fi
}

# From looking for free ports until they are taken nobody else looks: two that start together would find the same ones. Where the
# lock cannot be had it goes without; a service whose port is taken says so and ends.
hold_ports() {
  local lock=${TMPDIR:-/tmp}/crindle-ports.lock
  # In a folder that all may write to somebody may have put a link there: it is not followed.
  [ -e "$lock" ] || [ -L "$lock" ] || (umask 111 && set -o noclobber && : >"$lock") 2>/dev/null || true
  if [ -f "$lock" ] && ! [ -L "$lock" ] && [ -w "$lock" ] && command -v flock >/dev/null; then
    exec 9>>"$lock"
    flock -w 300 9 || say "Somebody else has been starting Crindle for five minutes; going on"
  fi
}

let_ports_go() { { exec 9>&-; } 2>/dev/null || true; }

# What answers must be what was started here, and not whoever else has the port: it says so to whoever knows this start's secret.
wait_until_it_answers() { # name url
  for _ in $(seq 300); do
    node -e 'fetch(process.argv[1], { headers: { "x-crindle-start": process.env.CRINDLE_START } })
      .then((r) => process.exit(r.status < 500 && r.headers.get("x-crindle-start") ? 0 : 1), () => process.exit(1))' "$2" && return
    is_running "$1" || { tail -n 20 "$RUN/$1.log" >&2; fail "The $1 ended while starting; its log is $RUN/$1.log"; }
    sleep 0.1
  done
  fail "The $1 does not answer on $2; its log is $RUN/$1.log"
}

# For run_everything, whose variables they set.
choose_ports() {
  studio=$(free_port 4700)
  collector=$(free_port $((studio + 1)))
  worker=$(free_port $((collector + 1)))
  analysis=$(free_port $((worker + 1)))
  standins=$(free_port $((analysis + 1)))
  site=$(free_port $((standins + 1)))
  outbox=$(free_port $((site + 1)))
  stranger=$(free_port $((outbox + 1)))
  # Where mails say that the studio is; behind a proxy it is named from outside.
  export CRINDLE_STUDIO=${given_studio:-http://127.0.0.1:$studio}
  export CRINDLE_COLLECTOR=${given:-http://127.0.0.1:$collector} CRINDLE_STANDINS=http://127.0.0.1:$standins
  export CRINDLE_ANALYSIS_URL=${given_analysis:-http://127.0.0.1:$analysis}
  [ "$mode" != start ] || return 0
  export CRINDLE_LOCATION_URL=$CRINDLE_STANDINS CRINDLE_WEATHER_URL=$CRINDLE_STANDINS CRINDLE_SITE_ORIGIN=http://127.0.0.1:$site
  # What is mailed stays in the stand-in, to be read there, unless a mail server is named from outside.
  export CRINDLE_STRANGER_PORT=$stranger CRINDLE_OUTBOX_PORT=$outbox CRINDLE_MAIL_URL=${given_mail:-smtp://127.0.0.1:$outbox}
  # The demo's visitors say where they come from in a header, as a proxy in front of the collector would.
  export CRINDLE_TRUST_PROXY=1
}

# Loads the demo where it is not there; where it is, its addresses follow the ports.
seed_demo() {
  node dist/server/seed.mjs --visits "$visits" --addresses "127.0.0.1:$site,localhost:$site" --truth "$DATA/ground-truth.json"
}

run_everything() { # demo | start | dev, then options
  local mode=$1 visits=40000 fresh=no detach=no only=' '
  shift
  while [ $# -gt 0 ]; do
    case "$1" in
      --fresh) fresh=yes ;;
      --detach) detach=yes ;;
      --visits) visits=${2:-}; shift; [[ "$visits" =~ ^[0-9]+$ ]] || fail "--visits wants a whole number, met \"$visits\"." ;;
      collector | worker | analysis | studio)
        [ "$mode" = start ] || fail "$mode starts everything; ./crindle start $1 starts one."
        only="$only$1 "
        ;;
      *) fail "$mode has no option \"$1\"; see ./crindle help" ;;
    esac
    shift
  done
  prepare_tools run
  choose_data
  [ "$only" != ' ' ] || only=' collector worker analysis studio '
  if is_running studio && is_running collector && [ $fresh = no ]; then
    if [ -z "${CRINDLE_DATABASE_URL:-}" ]; then
      database_runs "$DATA/db" || run_database "$DATA/db" "$(database_port "$DATA/db")" on || fail "PostgreSQL did not start; its log is $DATA/db/pg/server.log"
      keep_database "$DATA/db"
    fi
    say "Crindle is running already."
    print_addresses "$mode"
    return
  fi
  [ "$mode" = dev ] || ensure_built
  [ "$mode" != dev ] || node scripts/build.mjs >&2
  for name in $SERVICES; do stop_service "$name"; done
  if [ $fresh = yes ]; then
    [ -z "${CRINDLE_DATABASE_URL:-}" ] || fail "--fresh empties the database in $DATA; CRINDLE_DATABASE_URL names another, which is left as it is."
    stop_service database
    stop_database "$DATA/db"
    rm -rf "$DATA/db"
  fi
  [ $detach = yes ] || trap 'say "Stopping"; trap - INT TERM EXIT; stop_everything; exit 0' INT TERM EXIT
  # A database on another machine is named from outside.
  if [ -z "${CRINDLE_DATABASE_URL:-}" ]; then
    start_database "$DATA/db" on
    keep_database "$DATA/db"
  fi
  node scripts/migrate.mjs >&2

  local studio collector worker analysis standins site outbox stranger given=${CRINDLE_COLLECTOR:-} given_analysis=${CRINDLE_ANALYSIS_URL:-}
  local given_studio=${CRINDLE_STUDIO:-} given_mail=${CRINDLE_MAIL_URL:-}
  export HOST=${CRINDLE_HOST:-127.0.0.1} NODE_ENV=production NEXT_TELEMETRY_DISABLED=1 CRINDLE_RUN=$RUN
  CRINDLE_START=$(node -p 'crypto.randomUUID()')
  CRINDLE_ANALYSIS_TOKEN=${CRINDLE_ANALYSIS_TOKEN:-$(node -p 'crypto.randomUUID()')}
  export CRINDLE_START CRINDLE_ANALYSIS_TOKEN
  # Secrets of connections are encrypted with it; whoever moves the data moves it along, or names it from outside.
  if [ -z "${CRINDLE_SECRET_KEY:-}" ]; then
    [ -s "$DATA/key" ] || (umask 077 && node -p 'require("crypto").randomBytes(32).toString("base64")' >"$DATA/key")
    CRINDLE_SECRET_KEY=$(cat "$DATA/key")
    export CRINDLE_SECRET_KEY
  fi
  choose_ports
  [ "$mode" = start ] || seed_demo
  hold_ports
  # Loading takes long: somebody else may have taken them meanwhile.
  if [ "$(free_port "$studio")" != "$studio" ] || [ "$(free_port "$site")" != "$site" ] || [ "$(free_port "$collector")" != "$collector" ]; then
    choose_ports
    [ "$mode" = start ] || seed_demo
  fi

  is_wanted collector && start_service collector "$collector" node --enable-source-maps dist/server/collector.mjs
  is_wanted worker && start_service worker "$worker" node --enable-source-maps dist/server/worker.mjs
  # What is freed goes back to the machine at once: the analysis has few, large pieces of memory.
  is_wanted analysis && start_service analysis "$analysis" env MALLOC_MMAP_THRESHOLD_=131072 node --enable-source-maps dist/server/analysis.mjs
  if [ "$mode" = dev ]; then
    NODE_ENV=development start_service studio "$studio" node node_modules/next/dist/bin/next dev -H "$HOST" -p "$studio"
  elif is_wanted studio; then
    start_service studio "$studio" node --enable-source-maps dist/server/studio.mjs
  fi
  if [ "$mode" != start ]; then
    start_service standins "$standins" node --enable-source-maps dist/server/standins.mjs
    start_service site "$site" node --enable-source-maps dist/server/site.mjs
    wait_until_it_answers standins "http://127.0.0.1:$standins/health"
    wait_until_it_answers site "http://127.0.0.1:$site/health"
  fi
  ! is_wanted collector || wait_until_it_answers collector "http://127.0.0.1:$collector/health"
  if [ "$mode" != start ] && [ "${CRINDLE_VISITORS_PER_MINUTE:-6}" != 0 ]; then
    start_service visitors "$site" node --enable-source-maps dist/server/visitors.mjs
  fi
  ! is_wanted analysis || wait_until_it_answers analysis "http://127.0.0.1:$analysis/health"
  ! is_wanted worker || wait_until_it_answers worker "http://127.0.0.1:$worker/health"
  ! is_wanted studio || wait_until_it_answers studio "http://127.0.0.1:$studio/sign-in"
  let_ports_go
  print_addresses "$mode"
  [ $detach = no ] || return 0
  say "Ctrl-C stops everything."
  local first
  read -r first _ <<<"$only"
  is_wanted studio && first=studio
  while is_running "$first"; do sleep 0.5; done
  for name in $SERVICES; do
    if ! is_running "$name" && [ -f "$RUN/$name.pid" ]; then say "The $name ended; its log is $RUN/$name.log"; fi
  done
}

# For run_everything: whether this machine is to have it.
is_wanted() { [[ "$only" = *" $1 "* ]]; }

# Links name the studio as it is reached.
with_studio_address() {
  choose_data
  [ -n "${CRINDLE_STUDIO:-}" ] || ! [ -f "$RUN/studio.port" ] || export CRINDLE_STUDIO=http://127.0.0.1:$(cat "$RUN/studio.port")
  "$@"
}

print_addresses() { # mode
  printf '\n'
  ! is_running studio || printf '  Studio     http://127.0.0.1:%s\n' "$(cat "$RUN/studio.port")"
  if [ "$1" != start ] && [ -f "$RUN/site.port" ]; then
    printf '  Demo site  http://127.0.0.1:%s\n' "$(cat "$RUN/site.port")"
    printf '  Stand-ins  http://127.0.0.1:%s/\n' "$(cat "$RUN/standins.port")"
    printf '  Outbox     http://127.0.0.1:%s/outbox\n' "$(cat "$RUN/standins.port")"
    printf '  Sign in    ines@tarnhollow.example with the password lantern-col\n'
  fi
  if [ "$1" = start ] && is_running studio; then
    local link
    link=$(CRINDLE_STUDIO=${CRINDLE_STUDIO:-http://127.0.0.1:$(cat "$RUN/studio.port")} node dist/server/cli.mjs link 2>/dev/null) || true
    [ -z "${link:-}" ] || printf '  Begin      %s\n             makes the first account and its site; good for a day, once\n' "$link"
  fi
  ! is_running collector || printf '  Collector  http://127.0.0.1:%s\n' "$(cat "$RUN/collector.port")"
  ! is_running analysis || is_running studio || printf '  Analysis   http://127.0.0.1:%s\n' "$(cat "$RUN/analysis.port")"
  printf '\n'
}
