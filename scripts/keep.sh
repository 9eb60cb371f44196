#!/usr/bin/env bash
# keep.sh FILE COMMAND...: keeps a command running. When it ends by itself it is started again, after 1, 2, 4 … 60 seconds, and FILE says
# how often, when last (Unix time) and with what code. A first start that fails within three seconds is left to whoever started it.
file=$1
shift
pause=1
times=0
trap 'trap - TERM INT; kill -TERM $(jobs -p) 2>/dev/null; wait; exit 0' TERM INT
while :; do
  began=$SECONDS
  "$@" &
  child=$!
  wait "$child"
  code=$?
  lasted=$((SECONDS - began))
  [ $times != 0 ] || [ $lasted -ge 3 ] || exit $code
  [ $lasted -lt 60 ] || pause=1
  times=$((times + 1))
  printf '%s %s %s\n' "$times" "$(date +%s)" "$code" >"$file"
  printf 'It ended with %s and is started again in %s s\n' "$code" "$pause" >&2
  sleep "$pause" &
  child=$!
  wait "$child"
  pause=$((pause * 2 > 60 ? 60 : pause * 2))
done
