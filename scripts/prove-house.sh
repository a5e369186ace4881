#!/usr/bin/env bash
# A house of one's own, as docs/running.md tells it, from an empty database to a restored one: started, put behind TLS by both
# example proxies, opened with its key, stopped while a request is open, backed up, destroyed, restored, entered again.
# Needs built desk and a running cluster ($PG_CONNECTION); everything is on loopback and ends with it.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$ROOT"
for part in base postgres build; do
  # shellcheck source=/dev/null
  source "scripts/$part.sh"
done
WORK=$(mktemp -d)
DB=outcry_prove_$$
PIDS=()
finish() {
  for pid in "${PIDS[@]}"; do is_running "$pid" && kill "$pid" 2>/dev/null; done
  for name in "$DB" "${DB}_again" "${DB}_first"; do sql postgres -c "set client_min_messages = warning" -c "drop database if exists $name with (force)" || true; done
  rm -rf "$WORK"
}
trap finish EXIT
pg_start >/dev/null
free_port() { local p; while :; do p=$((20000 + RANDOM % 20000)); port_taken "$p" || { echo "$p"; return; }; done; }
fail() { printf 'NOT SO: %s\n' "$*" >&2; exit 1; }
so() { printf 'so: %s\n' "$*"; }

DESK=$(free_port) NGINX=$(free_port) HAPROXY=$(free_port)
KEY=kiln-glaze-wheel-clay
sql postgres -c "create database $DB"
export Keys__File="$WORK/keys.pfx"
start_desk() {
  ConnectionStrings__Outcry="$PG_CONNECTION;Database=$1" Opening__Key=$KEY Desk__Address="https://localhost:$NGINX" \
    dotnet "$DESK_DLL" --urls "http://127.0.0.1:$DESK" --contentRoot "$ROOT/src/Outcry.Server" >>"$WORK/desk.log" 2>&1 &
  DESK_PID=$!
  PIDS+=("$DESK_PID")
  for _ in $(seq 150); do
    curl -fs -o /dev/null "http://127.0.0.1:$DESK/health/ready" && return 0
    is_running "$DESK_PID" || { tail -n 20 "$WORK/desk.log" >&2; fail "the desk started"; }
    sleep 0.2
  done
  fail "the desk was ready within 30 s"
}

# A wrong setting is one clear sentence, before anything runs.
for wrong in "Mail__Port=many" "Limits__VisitorPerSecnd=3" "Registration__Open=perhaps" "Proxies=everywhere" "Proxies__0=10.0.0.0/8"; do
  code=0
  said=$(env "$wrong" dotnet "$DESK_DLL" --urls "http://127.0.0.1:$DESK" 2>&1) || code=$?
  [ "$code" -eq 2 ] && [ "$(wc -l <<<"$said")" -eq 1 ] || fail "$wrong is told in one sentence, and not: $said"
done
so "a wrong setting is one sentence"
dotnet "$DESK_DLL" settings >"$WORK/all.ini"
sed 's/^;\(Mail\|Host\)/\1/' "$WORK/all.ini" | grep -q '^Host=' || fail "the settings file names Mail:Host"
printf '[Mail]\nPort=none\n' >"$WORK/bad.ini"
said=$(OUTCRY_SETTINGS="$WORK/bad.ini" dotnet "$DESK_DLL" 2>&1 || true)
grep -q 'The setting Mail:Port is "none"' <<<"$said" || fail "the file is read: $said"
so "settings come from the file"

# A house of its own for the first run, without a proxy.
sql postgres -c "create database ${DB}_first"
start_desk "${DB}_first"
node scripts/first-run.mjs "http://localhost:$DESK" "$KEY" || fail "a first true callout by no more acts than there should be"
kill -TERM "$DESK_PID"
while is_running "$DESK_PID"; do sleep 0.2; done
rm -f "$WORK/keys.pfx"

openssl req -x509 -newkey rsa:2048 -nodes -days 30 -subj /CN=localhost -addext subjectAltName=DNS:localhost \
  -keyout "$WORK/desk.key" -out "$WORK/desk.pem" >/dev/null 2>&1
cat "$WORK/desk.pem" "$WORK/desk.key" >"$WORK/both.pem"
start_desk "$DB"

# The examples as they stand, with our names, ports and certificate in them.
{
  printf 'pid %s/nginx.pid;\nerror_log %s/nginx.log;\nevents {}\nhttp {\naccess_log off;\n' "$WORK" "$WORK"
  for kind in client_body proxy fastcgi uwsgi scgi; do printf '%s_temp_path %s/nginx-%s;\n' "$kind" "$WORK" "$kind"; done
  sed "s#listen 443 ssl#listen 127.0.0.1:$NGINX ssl#; s#server_name desk.example#server_name localhost#; s#/etc/ssl/desk.example.pem#$WORK/desk.pem#; s#/etc/ssl/desk.example.key#$WORK/desk.key#; s#127.0.0.1:5080#127.0.0.1:$DESK#" docs/deploy/nginx.conf
  printf '}\n'
} >"$WORK/nginx.conf"
nginx -c "$WORK/nginx.conf" -g 'daemon off;' >>"$WORK/nginx.out" 2>&1 &
PIDS+=($!)
sed "s#bind :443 ssl crt /etc/ssl/desk.example.both.pem#bind 127.0.0.1:$HAPROXY ssl crt $WORK/both.pem#; s#127.0.0.1:5080#127.0.0.1:$DESK#" docs/deploy/haproxy.cfg >"$WORK/haproxy.cfg"
haproxy -f "$WORK/haproxy.cfg" >>"$WORK/haproxy.out" 2>&1 &
PIDS+=($!)

# curl that keeps cookies and trusts our certificate: ask PORT METHOD PATH [JSON]
ask() {
  local port=$1 method=$2 path=$3 body=${4:-} args=()
  [ -z "$body" ] || args=(-H 'Content-Type: application/json' -d "$body")
  curl -s --cacert "$WORK/desk.pem" -b "$WORK/jar" -c "$WORK/jar" -H "X-Outcry-Antiforgery: $(cat "$WORK/token" 2>/dev/null)" \
    -X "$method" "${args[@]}" "https://localhost:$port$path"
}
take_token() { ask "$1" GET /api/session | node -pe 'JSON.parse(require("fs").readFileSync(0)).antiforgeryToken' >"$WORK/token.new" && mv "$WORK/token.new" "$WORK/token"; }
for port in "$NGINX" "$HAPROXY"; do
  for _ in $(seq 50); do curl -s -o /dev/null --cacert "$WORK/desk.pem" "https://localhost:$port/health/ready" && break; sleep 0.2; done
  headers=$(curl -s -D - -o /dev/null --cacert "$WORK/desk.pem" "https://localhost:$port/api/session")
  grep -qi '^set-cookie: outcry.antiforgery=.*secure' <<<"$headers" || fail "cookies are secure behind port $port: $headers"
  [ "$(curl -s -o /dev/null -w '%{http_code}' --http1.1 --cacert "$WORK/desk.pem" -H 'Connection: Upgrade' -H 'Upgrade: websocket' -H 'Sec-WebSocket-Version: 13' -H 'Sec-WebSocket-Key: AAAAAAAAAAAAAAAAAAAAAA==' -H "Origin: https://localhost:$port" --max-time 5 "https://localhost:$port/live")" = 401 ] ||
    fail "the live line is reached, and shut to strangers, behind port $port"
done
so "nginx and HAProxy as documented: TLS, secure cookies, the live line"

take_token "$NGINX"
ask "$NGINX" POST /api/session/opening "{\"key\":\"$KEY\",\"workspace\":\"Emberwick Pottery\",\"homeAddress\":\"https://emberwick.example\",\"timeZone\":\"Europe/Dublin\",\"language\":\"en\",\"name\":\"Marta Quill\",\"email\":\"marta@emberwick.example\",\"password\":\"seven otters carry a lamp\"}" | grep -q '"key"' || fail "the key opens the house"
grep -q 'outcry.session' "$WORK/jar" || fail "its owner is signed in"
take_token "$NGINX"
SITE=$(ask "$NGINX" GET /api/sites | node -pe 'JSON.parse(require("fs").readFileSync(0))[0].id')
WORKSPACE=$(ask "$NGINX" GET /api/sites | node -pe 'JSON.parse(require("fs").readFileSync(0))[0].workspaceId')
ask "$NGINX" PUT "/api/sites/$SITE/off-air" '{"offAir":true}' >/dev/null
ask "$NGINX" GET "/api/workspaces/$WORKSPACE/house" | grep -q 'more days' || fail "the state of the house names the certificate"
so "a stranger with the key opened a workspace through TLS"

# Told to stop while a request is open: that one ends well, and the process goes.
(printf 'POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 60\r\nConnection: close\r\n\r\n{"email":"a@b.example",'; sleep 2; printf '"password":"0123456789012345678901"}') |
  { exec 3<>"/dev/tcp/127.0.0.1/$DESK"; cat >&3; cat <&3; } >"$WORK/open" 2>/dev/null &
OPEN=$!
sleep 1
kill -TERM "$DESK_PID"
wait "$OPEN" || true
grep -q '^HTTP/1.1' "$WORK/open" || fail "an open request is answered before the stop"
for _ in $(seq 100); do is_running "$DESK_PID" || break; sleep 0.2; done
is_running "$DESK_PID" && fail "it stopped"
so "an open request ended before it stopped"

ConnectionStrings__Outcry="$PG_CONNECTION;Database=$DB" ./outcry backup "$WORK/house.tar" >/dev/null
[ "$(stat -c %a "$WORK/house.tar")" = 600 ] || fail "the backup is its owner's alone"
sql postgres -c "drop database $DB with (force)" -c "create database ${DB}_again"
rm "$WORK/keys.pfx"
ConnectionStrings__Outcry="$PG_CONNECTION;Database=${DB}_again" ./outcry restore "$WORK/house.tar" | grep -q 'Everything is back' || fail "everything is back"
if ConnectionStrings__Outcry="$PG_CONNECTION;Database=${DB}_again" ./outcry restore "$WORK/house.tar" 2>/dev/null; then fail "nothing is restored over what is there"; fi
start_desk "${DB}_again"
# The very cookie of before opens it: keys, sessions and members are all there.
ask "$NGINX" GET "/api/sites/$SITE/strip" | grep -q '"offAir":true' || fail "the session of before goes on in the restored house"
ask "$NGINX" GET "/api/workspaces/$WORKSPACE/team/traces" | grep -q 'took off air' || fail "what was done is still written"
so "backed up, destroyed, restored, and entered with the session of before"
