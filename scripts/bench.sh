# Measures the budgets: each figure beside its baseline, in interleaved rounds of the same run. Loopback only, bounded in time.

BENCH_DLL="$ROOT/bench/Outcry.Bench/bin/Release/net10.0/Outcry.Bench.dll"

bench_command() {
  local json=
  while [ $# -gt 0 ]; do
    case "$1" in
      --json) json=${2:-}; shift; [ -n "$json" ] || die "--json needs a file." ;;
      *) die "Unknown option $1." ;;
    esac
    shift
  done
  check_machine
  install_packages postgresql-15 wrk chromium chromium-driver
  build_web
  build_host
  pg_start
  step "building the benchmarks"
  logged bench-build dotnet build bench/Outcry.Bench -c Release -v q
  step_done
  BENCH_LINES="$RUN/bench.jsonl"
  rm -f "$BENCH_LINES"
  sql postgres -c 'set client_min_messages = warning' -c 'drop database if exists outcry_bench with (force)' -c 'create database outcry_bench'
  local connection="$PG_CONNECTION;Database=outcry_bench"
  step "planning alone"
  (cd "$RUN" && logged bench-plan dotnet "$BENCH_DLL" plan "$BENCH_LINES")
  step_done
  step "recorded visits through a draft"
  logged bench-replay dotnet "$BENCH_DLL" replay "$BENCH_LINES"

  step "absorbing events"
  logged bench-absorb dotnet "$BENCH_DLL" absorb "$BENCH_LINES"
  step_done
  step "files and single events into the ledger, pages out of a million"
  sql postgres -c 'set client_min_messages = warning' -c 'drop database if exists outcry_bench_ledger with (force)' -c 'create database outcry_bench_ledger'
  logged bench-ledger dotnet "$BENCH_DLL" ledger "$PG_CONNECTION;Database=outcry_bench_ledger" "$BENCH_LINES"
  sql postgres -c 'drop database if exists outcry_bench_ledger with (force)'
  step_done
  step "the inbox of ten thousand talks, the table of a hundred thousand leads"
  sql postgres -c 'set client_min_messages = warning' -c 'drop database if exists outcry_bench_people with (force)' -c 'create database outcry_bench_people'
  logged bench-people dotnet "$BENCH_DLL" people "$PG_CONNECTION;Database=outcry_bench_people" "$BENCH_LINES"
  sql postgres -c 'drop database if exists outcry_bench_people with (force)'
  step_done
  step "making a site of 200 live callouts"
  logged bench-site dotnet "$BENCH_DLL" site "$connection"
  step_done
  step "durable signals against raw COPY"
  logged bench-signals dotnet "$BENCH_DLL" signals "$connection" "$BENCH_LINES"
  step_done
  step "the plan endpoint against an empty one"
  bench_endpoint "$connection"
  step_done
  step "words of a talk to the other side and back"
  bench_talks "$connection"
  step_done
  step "the run sheet of 200 callouts on 40 page groups"
  logged bench-run-sheet dotnet "$BENCH_DLL" run-sheet "$connection" "$BENCH_LINES"
  step_done
  bench_snippet
  sql postgres -c 'drop database if exists outcry_bench with (force)'
  step "the snippet and the desk in a real browser"
  bench_main_thread
  step_done
  step "starting"
  bench_start
  step_done
  node scripts/bench-report.mjs "$BENCH_LINES" ${json:+"$json"}
}

bench_endpoint() {
  local desk=5090 empty=5091
  while port_taken $desk; do desk=$((desk + 2)); done
  while port_taken $empty || [ $empty = $desk ]; do empty=$((empty + 2)); done
  ConnectionStrings__Outcry="$1" Limits__VisitorPerSecond=1000000 Logging__LogLevel__Default=None \
    dotnet "$DESK_DLL" --urls "http://127.0.0.1:$desk" --contentRoot "$ROOT/src/Outcry.Server" >"$RUN/log/bench-desk.log" 2>&1 &
  local desk_pid=$!
  local waited=0
  until curl -fs -o /dev/null "http://127.0.0.1:$desk/health/ready"; do
    [ $((waited += 1)) -le 200 ] || { kill $desk_pid; die "The benchmark's desk did not come up; see $RUN/log/bench-desk.log."; }
    sleep 0.2
  done
  # The second page view of a visit: it brings the passport that the first was given, as most page views do.
  # The baseline answers as many bytes as that plan has, so that what is compared is the work between.
  local bytes
  bytes=$(node scripts/bench-request.mjs "http://127.0.0.1:$desk/v/plan" "$RUN/plan.lua")
  dotnet "$BENCH_DLL" empty "http://127.0.0.1:$empty" "$bytes" >"$RUN/log/bench-empty.log" 2>&1 &
  local empty_pid=$!
  until port_taken $empty; do
    [ $((waited += 1)) -le 400 ] || { kill $desk_pid $empty_pid; die "The benchmark's baseline did not come up; see $RUN/log/bench-empty.log."; }
    sleep 0.2
  done
  local code=0
  node scripts/bench-endpoint.mjs "$RUN/plan.lua" "http://127.0.0.1:$desk/v/plan" "http://127.0.0.1:$empty/v/plan" "$BENCH_LINES" || code=$?
  kill $desk_pid $empty_pid 2>/dev/null || true
  wait $desk_pid $empty_pid 2>/dev/null || true
  return $code
}

bench_talks() {
  local desk=5092 echo=5093
  while port_taken $desk; do desk=$((desk + 2)); done
  while port_taken $echo || [ $echo = $desk ]; do echo=$((echo + 2)); done
  ConnectionStrings__Outcry="$1" Limits__VisitorPerSecond=1000000 Logging__LogLevel__Default=None \
    dotnet "$DESK_DLL" --urls "http://127.0.0.1:$desk" --contentRoot "$ROOT/src/Outcry.Server" >"$RUN/log/bench-talk-desk.log" 2>&1 &
  local desk_pid=$!
  dotnet "$BENCH_DLL" echo "http://127.0.0.1:$echo" >"$RUN/log/bench-echo.log" 2>&1 &
  local echo_pid=$! waited=0
  until curl -fs -o /dev/null "http://127.0.0.1:$desk/health/ready" && port_taken $echo; do
    [ $((waited += 1)) -le 200 ] || { kill $desk_pid $echo_pid; die "The desk for talks did not come up; see $RUN/log/bench-talk-desk.log."; }
    sleep 0.2
  done
  local code=0
  dotnet "$BENCH_DLL" talks "$1" "http://127.0.0.1:$desk" $desk_pid "http://127.0.0.1:$echo" $echo_pid "$BENCH_LINES" >"$RUN/log/bench-talks.log" 2>&1 || code=$?
  kill $desk_pid $echo_pid 2>/dev/null || true
  wait $desk_pid $echo_pid 2>/dev/null || true
  [ $code -eq 0 ] || { tail -n 20 "$RUN/log/bench-talks.log" >&2; die "Talks could not be measured."; }
}

bench_snippet() {
  node -e '
    const { brotliCompressSync } = require("node:zlib"), fs = require("node:fs");
    const bytes = brotliCompressSync(fs.readFileSync("src/Outcry.Server/wwwroot/snippet/outcry.js")).length;
    fs.appendFileSync(process.argv[1], JSON.stringify({ name: "snippet-brotli", value: bytes, unit: "bytes", baseline: 6144, ratio: bytes / 6144, spread: "counted; the baseline is the limit" }) + "\n");' "$BENCH_LINES"
}

# Takes the demo that runs, or starts one for as long as it needs it.
bench_main_thread() {
  local started=
  demo_runs || { demo_command --background --reset >"$RUN/log/bench-demo.log" 2>&1; started=1; }
  demo_status --json >"$RUN/bench-status.json"
  local code=0
  node --experimental-websocket --no-warnings scripts/bench-snippet.mjs "$RUN/bench-status.json" "$BENCH_LINES" >"$RUN/log/bench-main-thread.log" 2>&1 || code=$?
  [ $code -ne 0 ] || node scripts/bench-desk.mjs "$RUN/bench-status.json" "$BENCH_LINES" >>"$RUN/log/bench-main-thread.log" 2>&1 || code=$?
  [ -z "$started" ] || demo_stop >/dev/null
  [ $code -eq 0 ] || { tail -n 20 "$RUN/log/bench-main-thread.log" >&2; die "The snippet and the desk could not be measured in a browser."; }
}

# With the demo's data, which the demo has made by now; the desk that it runs is stopped meanwhile. As published, which is how a
# host runs that is restarted under load.
bench_start() {
  local ran= made
  made=$(hash_of src web/package-lock.json Directory.Build.props Directory.Packages.props global.json)
  if ! { [ -x "$RUN/published/Outcry.Server" ] && is_fresh published "$made"; }; then
    publish_host "$RUN/published"
    stamp published "$made"
  fi
  demo_runs && { demo_end; ran=1; }
  pg_start
  ConnectionStrings__Outcry="$PG_CONNECTION;Database=outcry" ASPNETCORE_ENVIRONMENT=Production Keys__File="$RUN/keys.pfx" \
    Places__File="$RUN/places.mmdb" node scripts/bench-start.mjs "$BENCH_LINES" "$ROOT" "$RUN/published/Outcry.Server" "$BENCH_DLL" >"$RUN/log/bench-start.log" 2>&1 ||
    { tail -n 20 "$RUN/log/bench-start.log" >&2; die "The start could not be measured."; }
  [ -z "$ran" ] || demo_command --background >/dev/null 2>&1
}
