# serve, settings, publish, backup, restore: a house of one's own.

HOUSE_DB=outcry_house

serve_command() {
  local port=5080 settings=${OUTCRY_SETTINGS:-}
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) port=${2:-}; shift ;;
      --settings) settings=${2:-}; shift ;;
      *) die "Unknown option $1. ./outcry help lists what there is." ;;
    esac
    shift
  done
  [[ $port =~ ^[0-9]+$ && $port -ge 1 && $port -le 65535 ]] || die "A port is a number from 1 to 65535."
  [ -z "$settings" ] || [ -r "$settings" ] || die "The settings file $settings cannot be read."
  check_machine
  port_taken "$port" && die "Port $port is taken by another program. Choose another one with --port."
  build_web
  build_host
  house_database "$settings"
  # The key that encrypts the keys in the database: made at the first start, and part of every backup.
  [ -n "${Keys__File:-}" ] || grep -qiE '^ *\[Keys\]' "${settings:-/dev/null}" || export Keys__File="$RUN/house-keys.pfx"
  [ -z "$settings" ] || export OUTCRY_SETTINGS="$(realpath "$settings")"
  say "Outcry answers at http://127.0.0.1:$port until Ctrl-C. docs/running.md says how to put it behind TLS."
  # In our place: whoever stops this process stops the desk, which lets open requests end.
  exec env ASPNETCORE_ENVIRONMENT=Production dotnet "$DESK_DLL" --urls "http://127.0.0.1:$port" --contentRoot "$ROOT/src/Outcry.Server"
}

# The database that the settings name, or a private one on this machine.
house_database() {
  [ -z "${ConnectionStrings__Outcry:-}" ] || return 0
  if grep -qiE '^ *Outcry *=' "${1:-/dev/null}"; then return 0; fi
  pg_start
  [ -n "$(sql postgres -c "select 1 from pg_database where datname = '$HOUSE_DB'")" ] || sql postgres -c "create database $HOUSE_DB"
  export ConnectionStrings__Outcry="$PG_CONNECTION;Database=$HOUSE_DB"
}

settings_command() {
  check_machine
  build_web
  build_host
  dotnet "$DESK_DLL" settings
}

publish_command() {
  local to=${1:-}
  [ -n "$to" ] || die "Say where to: ./outcry publish FOLDER"
  check_machine
  build_web
  publish_host "$to"
}

# "Host=…;Port=…;…" as libpq reads it from the environment.
pg_environment() {
  local part name value
  while IFS= read -r part; do
    name=$(printf '%s' "${part%%=*}" | tr '[:upper:]' '[:lower:]' | tr -d ' ')
    value=${part#*=}
    case "$name" in
      host|server) export PGHOST="$value" ;;
      port) export PGPORT="$value" ;;
      database) export PGDATABASE="$value" ;;
      username|userid|user) export PGUSER="$value" ;;
      password) export PGPASSWORD="$value" ;;
    esac
  done < <(printf '%s\n' "$1" | tr ';' '\n')
}

# How many rows each table has, by name: what a restore is compared with.
count_rows() {
  "$PG_BIN/psql" -v ON_ERROR_STOP=1 -qAt -F ' ' -c "
    select c.relname, (xpath('/row/n/text()', query_to_xml(format('select count(*) as n from %I.%I', n.nspname, c.relname), false, true, '')))[1]::text
    from pg_class c join pg_namespace n on n.oid = c.relnamespace
    where n.nspname = 'public' and c.relkind in ('r', 'p') order by 1"
}

backup_command() {
  local to=${1:-} settings=${OUTCRY_SETTINGS:-}
  [ -n "$to" ] || die "Say where to: ./outcry backup FILE.tar"
  [ ! -e "$to" ] || die "$to is there already. Give another name; a backup never replaces one."
  install_packages postgresql-15
  house_database "$settings"
  house_connection "$settings"
  local keys=${Keys__File:-$RUN/house-keys.pfx} work
  work=$(mktemp -d)
  trap 'rm -rf "$work"' RETURN
  step "backing up"
  "$PG_BIN/pg_dump" --format=custom --no-owner --no-acl --file="$work/database.dump" || die "The database could not be read."
  count_rows >"$work/rows"
  [ ! -r "$keys" ] || cp "$keys" "$work/keys.pfx"
  printf '{ "format": 1, "at": "%s", "keys": %s }\n' "$(date -u +%FT%TZ)" "$([ -r "$keys" ] && echo true || echo false)" >"$work/manifest.json"
  # Whoever has it has everything: for its owner alone, and whole or not at all.
  (umask 077; tar -C "$work" -cf "$to.part" . && mv "$to.part" "$to") || die "$to could not be written."
  "$PG_BIN/psql" -v ON_ERROR_STOP=1 -q -c "insert into backups (id, at, bytes) values (gen_random_uuid(), now(), $(stat -c %s "$to"))"
  step_done
  say "$to holds the database and its keys. Keep it where this machine is not."
}

restore_command() {
  local from=${1:-} settings=${OUTCRY_SETTINGS:-}
  [ -r "$from" ] || die "Say what from: ./outcry restore FILE.tar"
  install_packages postgresql-15
  house_database "$settings"
  house_connection "$settings"
  local keys=${Keys__File:-$RUN/house-keys.pfx} work
  work=$(mktemp -d)
  trap 'rm -rf "$work"' RETURN
  tar -C "$work" -xf "$from" 2>/dev/null && [ -s "$work/manifest.json" ] || die "$from is no backup of Outcry."
  grep -q '"format": 1' "$work/manifest.json" || die "$from was made by a newer version of Outcry. Update this one first."
  [ -z "$(count_rows)" ] || die "The database $PGDATABASE is not empty. Restore into a new one; nothing was touched."
  if [ -r "$work/keys.pfx" ] && [ -e "$keys" ] && ! cmp -s "$work/keys.pfx" "$keys"; then
    die "$keys is there already and is another key. Move it away first; nothing was touched."
  fi
  step "restoring"
  "$PG_BIN/pg_restore" --no-owner --no-acl --exit-on-error --single-transaction --dbname="$PGDATABASE" "$work/database.dump" || die "It could not be restored; nothing was changed."
  if [ -r "$work/keys.pfx" ] && [ ! -e "$keys" ]; then (umask 077; cp "$work/keys.pfx" "$keys"); fi
  count_rows >"$work/now"
  diff "$work/rows" "$work/now" >&2 || die "Some tables have other numbers of rows than when they were backed up; they are above."
  step_done
  say "Everything is back: $(wc -l <"$work/rows") tables, $(awk '{n += $2} END {print n}' "$work/rows") rows."
}

# Sets libpq's variables from the connection that the desk would use.
house_connection() {
  local connection=${ConnectionStrings__Outcry:-}
  [ -n "$connection" ] || connection=$(sed -nE 's/^ *Outcry *= *//Ip' "${1:-/dev/null}" | head -n 1)
  [ -n "$connection" ] || die "No database is named. Set ConnectionStrings__Outcry, or give the settings file by OUTCRY_SETTINGS."
  pg_environment "$connection"
}
