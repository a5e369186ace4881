# A private PostgreSQL cluster on loopback, never the system's. Works as root (through the postgres user) and as an ordinary user.

PG_BIN=/usr/lib/postgresql/15/bin

pg_place() {
  PG_HOME="$RUN/pg"
  # The postgres user must be able to walk to the cluster; a root home is closed to it.
  if [ "$(id -u)" -eq 0 ] && ! setpriv --reuid=postgres --regid=postgres --init-groups test -x "$RUN" 2>/dev/null; then
    PG_HOME="/var/tmp/outcry-$(printf '%s' "$ROOT" | sha256sum | cut -c1-12)"
  fi
  mkdir -p "$PG_HOME"
  [ "$(id -u)" -ne 0 ] || chown postgres:postgres "$PG_HOME"
}

# What else a process of the database is given; the tests set its clock by it.
PG_FAKE=()

as_postgres() {
  if [ "$(id -u)" -eq 0 ]; then
    (cd / && setpriv --reuid=postgres --regid=postgres --init-groups --no-new-privs env -i PATH="$PG_BIN:/usr/bin:/bin" LC_ALL=C.UTF-8 "${PG_FAKE[@]}" "$@")
  else
    (cd / && env PATH="$PG_BIN:$PATH" LC_ALL=C.UTF-8 "${PG_FAKE[@]}" "$@")
  fi
}

pg_pid() { head -n 1 "$PG_HOME/data/postmaster.pid" 2>/dev/null || true; }

pg_start() {
  install_packages postgresql-15
  pg_place
  local secret="$PG_HOME/secret"
  if [ ! -s "$PG_HOME/data/PG_VERSION" ] || [ ! -s "$secret" ]; then
    step "making a private database cluster"
    rm -rf "$PG_HOME/data"
    (umask 077; head -c 24 /dev/urandom | base64 | tr -d '/+=' >"$secret")
    [ "$(id -u)" -ne 0 ] || chown postgres:postgres "$secret"
    logged initdb as_postgres "$PG_BIN/initdb" -D "$PG_HOME/data" -U outcry -A scram-sha-256 --pwfile="$secret" -E UTF8 --locale=C.UTF-8
    step_done
  fi
  PG_PORT=$(cat "$PG_HOME/port" 2>/dev/null || echo 5480)
  if ! is_running "$(pg_pid)"; then
    rm -f "$PG_HOME/data/postmaster.pid"
    while port_taken "$PG_PORT"; do PG_PORT=$((PG_PORT + 1)); done
    echo "$PG_PORT" >"$PG_HOME/port"
    if ! as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -w -t 60 -l "$PG_HOME/postgres.log" \
      -o "-p $PG_PORT -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c max_connections=200" start >/dev/null 2>&1 9>&-; then
      tail -n 5 "$PG_HOME/postgres.log" >&2
      die "The database did not start; its log is $PG_HOME/postgres.log."
    fi
  fi
  PGPASSWORD=$(cat "$secret")
  export PGPASSWORD
  PG_CONNECTION="Host=127.0.0.1;Port=$PG_PORT;Username=outcry;Password=$PGPASSWORD"
}

pg_stop() {
  pg_place
  if is_running "$(pg_pid)"; then
    as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -w -m fast stop >/dev/null 2>&1 || true
  fi
}

sql() { local database=$1; shift; "$PG_BIN/psql" -h 127.0.0.1 -p "$PG_PORT" -U outcry -d "$database" -v ON_ERROR_STOP=1 -qAt "$@"; }
