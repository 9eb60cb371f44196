# A backup is one file: the database as pg_dump writes it, and the key that secrets in it are encrypted with.

# backup_everything FILE
backup_everything() {
  local file=${1:-} folder
  [ -n "$file" ] || fail "backup wants the file to write, such as crindle-$(date +%F).tar"
  [ ! -e "$file" ] || fail "$file is there already; a backup does not write over another."
  folder=$(mktemp -d)
  (
    umask 077
    "$PG_BIN/pg_dump" --format=custom --compress=6 --no-owner --no-privileges --file="$folder/database" "$CRINDLE_DATABASE_URL" \
      || fail "The database could not be read whole; nothing was written."
    if [ -n "${CRINDLE_SECRET_KEY:-}" ]; then
      printf '%s\n' "$CRINDLE_SECRET_KEY" >"$folder/key"
    elif [ -s "${DATA:-}/key" ]; then
      cp "$DATA/key" "$folder/key"
    else
      say "There is no key to back up: secrets of connections can be read nowhere else without it."
    fi
    tar -cf "$file.part" -C "$folder" . && mv "$file.part" "$file"
  ) || { rm -rf "$folder" "$file.part"; exit 1; }
  rm -rf "$folder"
  say "Written to $file. Whoever has it has everything, secrets included: keep it accordingly."
  local elsewhere
  elsewhere=$("$PG_BIN/psql" "$CRINDLE_DATABASE_URL" -tAc "select string_agg(name, ', ') from node where exists (select from site where site.node = node.name)" 2>/dev/null) || true
  [ -z "$elsewhere" ] || say "NOT in it: the sites that live on $elsewhere. Back each of these up by its own CRINDLE_DATABASE_URL."
}

# restore_everything FILE: into a database that has nothing in it.
restore_everything() {
  local file=${1:-} folder tables
  [ -n "$file" ] || fail "restore wants the file that backup wrote."
  [ -r "$file" ] || fail "$file is not there, or cannot be read."
  choose_data
  [ -n "${CRINDLE_DATABASE_URL:-}" ] || start_database "$DATA/db" on
  tables=$("$PG_BIN/psql" "$CRINDLE_DATABASE_URL" -tAc "select count(*) from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'p')") \
    || fail "The database cannot be reached."
  [ "$tables" = 0 ] || fail "There is data here already. Restore into an empty place: CRINDLE_DATA=/another/folder ./crindle restore $file"
  folder=$(mktemp -d)
  tar -xf "$file" -C "$folder" 2>/dev/null && [ -s "$folder/database" ] || { rm -rf "$folder"; fail "$file is no backup of Crindle, or is cut off."; }
  "$PG_BIN/pg_restore" --no-owner --no-privileges --exit-on-error --single-transaction --dbname="$CRINDLE_DATABASE_URL" "$folder/database" \
    || { rm -rf "$folder"; fail "The database could not be restored; nothing of it was kept."; }
  if [ -s "$folder/key" ]; then
    if [ -n "${CRINDLE_SECRET_KEY:-}" ]; then
      [ "$CRINDLE_SECRET_KEY" = "$(cat "$folder/key")" ] || say "CRINDLE_SECRET_KEY is another than the backup's: secrets of connections have to be typed anew."
    else
      (umask 077 && cp "$folder/key" "$DATA/key")
    fi
  fi
  rm -rf "$folder"
  node scripts/migrate.mjs >&2
  say "Restored from $file."
}
