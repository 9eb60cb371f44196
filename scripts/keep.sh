#!/usr/bin/env bash
# keep.sh FILE COMMAND...: keeps a command running. When it ends by itself it is started again: at once if it had answered, else after 1, 2, 4 … 10
# seconds. FILE says how often, when last (Unix time), with what code, and whether it runs now. A first start that fails within three seconds is left to
# whoever started it. With KEEP_ASK (a path) it is asked there, at HOST and PORT, every KEEP_EVERY seconds; whoever does not answer KEEP_MOST times in a
# row, each within KEEP_WITHIN seconds, is killed. With KEEP_LOG, a file that it is written to, that is emptied when it is large; what stood in it is in KEEP_LOG.1.
file=$1
shift
every=${KEEP_EVERY:-5}
within=${KEEP_WITHIN:-10}
most=${KEEP_MOST:-6}
most_log=$((32 * 1024 * 1024))
host=${HOST:-127.0.0.1}
case $host in 0.0.0.0 | ::) host=127.0.0.1 ;; esac
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
trap 'trap - TERM INT; kill -TERM $(jobs -p) 2>/dev/null; wait; exit 0' TERM INT

answers() {
  # Any answer is one: whoever says that its database is away is alive.
  timeout "$within" bash -c 'exec 7<>"/dev/tcp/$1/$2" && printf "GET %s HTTP/1.0\r\nhost: %s\r\n\r\n" "$3" "$1" >&7 && read -r line <&7 && [[ $line == HTTP/* ]]' \
    ask "$host" "$PORT" "$KEEP_ASK" 2>/dev/null
}

# Watches one life of the command. The file `answered` in its folder says that it has answered once.
watch() { # pid
  local missed=0
  until answers; do sleep 0.5; done
  : >"$folder/answered"
  [ $times = 0 ] || note runs
  while sleep "$every"; do
    if [ -n "${KEEP_LOG:-}" ] && [ "$(stat -c %s "$KEEP_LOG" 2>/dev/null || echo 0)" -gt "$most_log" ]; then
      (umask 077 && cp "$KEEP_LOG" "$KEEP_LOG.1") && : >"$KEEP_LOG"
    fi
    if answers; then
      missed=0
    elif missed=$((missed + 1)) && [ "$missed" -ge "$most" ]; then
      printf 'It does not answer any more, and is ended\n' >&2
      kill -KILL "$1"
      return
    fi
  done
}

note() { printf '%s %s %s %s\n' "$times" "$at" "$code" "$1" >"$file.new" && mv "$file.new" "$file"; }

pause=1
times=0
while :; do
  began=$SECONDS
  rm -f "$folder/answered"
  "$@" &
  child=$!
  watcher=''
  if [ -n "${KEEP_ASK:-}" ]; then
    watch "$child" &
    watcher=$!
  elif [ $times != 0 ]; then
    note runs
  fi
  wait "$child"
  code=$?
  [ -z "$watcher" ] || { pkill -P "$watcher"; kill "$watcher"; } 2>/dev/null
  lasted=$((SECONDS - began))
  [ $times != 0 ] || [ $lasted -ge 3 ] || [ -e "$folder/answered" ] || exit $code
  if [ -e "$folder/answered" ] || { [ -z "$watcher" ] && [ $lasted -ge 3 ]; }; then wait_s=0.2 pause=1; else wait_s=$pause pause=$((pause * 2 > 10 ? 10 : pause * 2)); fi
  times=$((times + 1))
  at=$(date +%s)
  note ended
  printf 'It ended with %s and is started again in %s s\n' "$code" "$wait_s" >&2
  sleep "$wait_s" &
  wait $!
done
