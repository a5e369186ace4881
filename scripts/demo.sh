# demo, stop, status.

STATE="$RUN/demo.state"

demo_command() {
  local background= reset= port=5080 site_port=5081
  while [ $# -gt 0 ]; do
    case "$1" in
      --background) background=1 ;;
      --reset) reset=1 ;;
      --port) port=${2:-}; shift ;;
      --site-port) site_port=${2:-}; shift ;;
      *) die "Unknown option $1. ./outcry help lists what there is." ;;
    esac
    shift
  done
  [[ $port =~ ^[0-9]+$ && $site_port =~ ^[0-9]+$ && $port -ge 1 && $port -le 65535 && $site_port -ge 1 && $site_port -le 65535 ]] || die "A port is a number from 1 to 65535."
  [ "$port" != "$site_port" ] || die "The desk and the demo site need two different ports."
  check_machine
  exec 9>"$RUN/lock"
  flock -w 300 9 || die "Another ./outcry is still starting; wait for it."
  if demo_runs; then
    if [ -z "$reset" ]; then
      say "It is running already."
      demo_print
      return 0
    fi
    demo_stop
  elif demo_lives; then
    # One part has died: what is left of it would hold the ports.
    demo_stop
  fi
  port_taken "$port" && die "Port $port is taken by another program. Choose another one with --port."
  port_taken "$site_port" && die "Port $site_port is taken by another program. Choose another one with --site-port."
  build_web
  build_host
  pg_start
  [ -n "$background" ] || trap 'demo_end; exit 130' INT TERM
  demo_fill "$reset" "$site_port"
  demo_start "$port" "$site_port"
  demo_print
  flock -u 9
  exec 9>&-
  [ -n "$background" ] && return 0
  say "Ctrl-C ends everything."
  # Whichever ends first ends the demo.
  while is_running "$DESK_PID" && is_running "$SITE_PID"; do sleep 1; done
  tail -n 15 "$RUN/log/desk.log" "$RUN/log/site.log" >&2
  demo_end
  die "A part of the demo ended by itself; the last lines of its log are above."
}

# Makes and fills the database once; a fill that was broken off is begun again.
demo_fill() {
  local reset=$1 site_port=$2 site="http://localhost:$2"
  if [ -n "$reset" ] || [ ! -e "$PG_HOME/filled" ]; then
    rm -f "$PG_HOME/filled"
    sql postgres -c 'set client_min_messages = warning' -c 'drop database if exists outcry with (force)' -c 'create database outcry'
    step "making a month of made-up data"
    printf '\n'
    mkdir -p "$RUN/log"
    ConnectionStrings__Outcry="$PG_CONNECTION;Database=outcry" Keys__File="$RUN/keys.pfx" dotnet "$STANDINS_DLL" seed --site "$site" 2>"$RUN/log/seed.log" ||
      { tail -n 20 "$RUN/log/seed.log" >&2; die "The demo data could not be made; the log is $RUN/log/seed.log."; }
    touch "$PG_HOME/filled"
    printf '  '
    step_done
  fi
  local before
  before=$(sql outcry -c "select rtrim(home_address, '/') from sites limit 1")
  if [ "$before" != "$site" ]; then
    sql outcry -v was="$before" -v is="$site" <<'SQL'
update sites set home_address = :'is' || '/', allowed_hosts = array_replace(allowed_hosts, substr(:'was', 8), substr(:'is', 8));
update sources set poll = jsonb_set(poll, '{address}', to_jsonb(replace(poll->>'address', :'was', :'is'))) where poll is not null;
update events set product_address = replace(product_address, :'was', :'is'), product_picture = replace(product_picture, :'was', :'is'), page = replace(page, :'was', :'is');
SQL
  fi
}

demo_start() {
  local port=$1 site_port=$2
  mkdir -p "$RUN/log"
  SITE_KEY=$(sql outcry -c 'select key from sites order by created_at limit 1')
  local source
  source=$(sql outcry -F ' ' -c "select id, secret from sources where kind = 'SignedWebhook' order by created_at limit 1")
  WEBHOOK_URL="http://localhost:$port/in/${source%% *}"
  WEBHOOK_SECRET=${source#* }
  local stock
  stock=$(sql outcry -F ' ' -c "select id, secret from sources where kind = 'SignedWebhook' and name = 'Stock levels' limit 1")
  # Where the demo's visitors are from, by their addresses; and a mailbox that reads what the desk sends.
  dotnet "$STANDINS_DLL" places "$RUN/places.mmdb"
  local smtp=5025
  while port_taken "$smtp"; do smtp=$((smtp + 1)); done
  # Mails that come back later are handed on by the mailbox, which shows this key.
  local bounce_key
  bounce_key=$(head -c 18 /dev/urandom | base64)
  step "starting"
  ConnectionStrings__Outcry="$PG_CONNECTION;Database=outcry;Maximum Pool Size=40" ASPNETCORE_ENVIRONMENT=Production \
    Fetch__AllowedPrivateHosts="localhost:$site_port" Places__File="$RUN/places.mmdb" \
    Mail__Host=localhost Mail__Port="$smtp" Mail__Tls=false Mail__From="desk@emberwick.example" \
    Mail__Bounces="bounces@emberwick.example" Mail__BounceKey="$bounce_key" Texts__Gateway="http://localhost:$site_port/outside/texts" \
    Keys__File="$RUN/keys.pfx" \
    setsid nohup dotnet "$DESK_DLL" --urls "http://localhost:$port" --contentRoot "$ROOT/src/Outcry.Server" \
    >"$RUN/log/desk.log" 2>&1 9>&- </dev/null &
  DESK_PID=$!
  # Secrets go by the environment, which only their owner can read; arguments stand in every list of processes.
  OUTCRY_SITE_BOUNCEKEY="$bounce_key" OUTCRY_SITE_SECRET="$WEBHOOK_SECRET" OUTCRY_SITE_STOCKSECRET="${stock#* }" \
    setsid nohup dotnet "$STANDINS_DLL" site --urls "http://localhost:$site_port" --desk "http://localhost:$port" \
    --siteKey "$SITE_KEY" --webhook "$WEBHOOK_URL" --stockWebhook "http://localhost:$port/in/${stock%% *}" --smtp "$smtp" \
    >"$RUN/log/site.log" 2>&1 9>&- </dev/null &
  SITE_PID=$!
  (
    umask 077
    cat >"$STATE" <<EOT
DESK_PID=$DESK_PID
SITE_PID=$SITE_PID
DESK_PORT=$port
SITE_PORT=$site_port
SITE_KEY=$SITE_KEY
WEBHOOK_URL=$WEBHOOK_URL
WEBHOOK_SECRET=$WEBHOOK_SECRET
EOT
  )
  DESK_PORT=$port SITE_PORT=$site_port
  local waited=0
  until curl -fs -o /dev/null "http://localhost:$port/health/ready" && curl -fs -o /dev/null "http://localhost:$site_port/health"; do
    if ! is_running "$DESK_PID" || ! is_running "$SITE_PID" || [ $((waited += 1)) -gt 300 ]; then
      tail -n 15 "$RUN/log/desk.log" "$RUN/log/site.log" >&2
      demo_end
      die "The demo did not come up; its logs are in $RUN/log."
    fi
    sleep 0.2
  done
  step_done
}

demo_runs() {
  [ -r "$STATE" ] || return 1
  # shellcheck source=/dev/null
  source "$STATE"
  is_ours "$DESK_PID" && is_ours "$SITE_PID"
}

# Whether any part of it still runs, though others may have died.
demo_lives() {
  [ -r "$STATE" ] || return 1
  # shellcheck source=/dev/null
  source "$STATE"
  is_ours "$DESK_PID" || is_ours "$SITE_PID"
}

# A number in an old file may by now be somebody else's process.
is_ours() { is_running "$1" && { tr '\0' ' ' <"/proc/$1/cmdline"; } 2>/dev/null | grep -q "$ROOT/src/Outcry"; }

demo_end() {
  # shellcheck source=/dev/null
  [ -r "$STATE" ] && source "$STATE"
  for pid in "${SITE_PID:-}" "${DESK_PID:-}"; do is_ours "${pid:-0}" && kill -TERM "$pid" 2>/dev/null; done
  for _ in $(seq 50); do
    is_ours "${SITE_PID:-0}" || is_ours "${DESK_PID:-0}" || break
    sleep 0.2
  done
  for pid in "${SITE_PID:-}" "${DESK_PID:-}"; do is_ours "${pid:-0}" && kill -KILL "$pid" 2>/dev/null; done
  rm -f "$STATE"
  [ -x "$PG_BIN/pg_ctl" ] && pg_stop
  return 0
}

demo_stop() {
  if demo_lives; then
    demo_end
    say "Stopped."
  else
    [ -x "$PG_BIN/pg_ctl" ] && [ -d "$RUN" ] && pg_stop
    rm -f "$STATE"
    say "Nothing was running."
  fi
}

demo_print() {
  cat <<EOT

  Desk       http://localhost:$DESK_PORT
  Demo site  http://localhost:$SITE_PORT

  Mailbox    http://localhost:$SITE_PORT/mailbox (text messages: /phone)

  Owner      marta@emberwick.example   kiln-opens-at-nine
  Publisher  ines@emberwick.example    kiln-opens-at-nine
  Editor     teo@emberwick.example     kiln-opens-at-nine
  Responder  jonas@emberwick.example   kiln-opens-at-nine

EOT
}

demo_status() {
  if ! demo_runs; then
    [ "${1:-}" = --json ] && say '{"running": false}' || say "Nothing is running. ./outcry demo starts it."
    return 1
  fi
  if [ "${1:-}" = --json ]; then
    pg_place
    cat <<EOT
{
  "running": true,
  "desk": "http://localhost:$DESK_PORT",
  "site": "http://localhost:$SITE_PORT",
  "siteKey": "$SITE_KEY",
  "webhook": { "url": "$WEBHOOK_URL", "secret": "$WEBHOOK_SECRET" },
  "accounts": [
    { "email": "marta@emberwick.example", "password": "kiln-opens-at-nine", "role": "Owner" },
    { "email": "ines@emberwick.example", "password": "kiln-opens-at-nine", "role": "Publisher" },
    { "email": "teo@emberwick.example", "password": "kiln-opens-at-nine", "role": "Editor" },
    { "email": "jonas@emberwick.example", "password": "kiln-opens-at-nine", "role": "Responder" }
  ],
  "pids": [$DESK_PID, $SITE_PID, $(pg_pid)]
}
EOT
  else
    demo_print
  fi
}
