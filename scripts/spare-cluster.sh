#!/usr/bin/env bash
# A database cluster of a test's own, to be stopped and started under its feet: start DIR (prints its connection), stop DIR, remove DIR.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
source "$ROOT/scripts/base.sh"
source "$ROOT/scripts/postgres.sh"
RUN=$2
# The place of a cluster is told by the root; this one must not be the demo's.
ROOT=$2
mkdir -p "$RUN"
chmod 755 "$RUN"
case "$1" in
  start)
    pg_start >&2
    printf '%s' "$PG_CONNECTION"
    ;;
  stop)
    pg_place
    as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -m immediate -w stop >&2
    ;;
  remove)
    pg_place
    as_postgres "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -m immediate -w stop >&2 || true
    rm -rf "$PG_HOME" "$RUN"
    ;;
esac
