# Everything that must hold before a change is good: format, lint, types, sizes, and all tests.

CHECKS_PASSED=0
CHECKS_FAILED=0

# Runs a check, counts it, and goes on, so that one run tells everything that is wrong.
check() {
  local name=$1 log="$RUN/log/check-${1// /-}.log"
  shift
  mkdir -p "$RUN/log"
  step "$name"
  if "$@" >"$log" 2>&1; then
    CHECKS_PASSED=$((CHECKS_PASSED + 1))
    step_done
  else
    CHECKS_FAILED=$((CHECKS_FAILED + 1))
    printf 'FAILED\n'
    tail -n 60 "$log"
  fi
}

# Sets the clock of everything the tests run, the database and the browser too; how long things take stays true.
fake_clock() {
  local at=$1
  date -d "$at" >/dev/null 2>&1 || die "\"$at\" is no date. Write it like 2028-02-29 12:00."
  install_packages faketime
  local library
  library=$(dpkg -L libfaketime | grep 'libfaketimeMT\.so\.1$') || die "The package faketime has no library for threads."
  # The database that runs already has the true clock.
  pg_stop
  # As a distance from now: processes that begin at different moments share one clock.
  local fake
  fake=("FAKETIME=$(printf '%+ds' $(($(date -u -d "$at UTC" +%s) - $(date +%s))))" FAKETIME_DONT_FAKE_MONOTONIC=1 FAKETIME_FORCE_MONOTONIC_FIX=0)
  FAKE=("LD_PRELOAD=$library" "${fake[@]}")
  # The database reads the clock in signal handlers, where the threaded library's lock would hold it for ever.
  PG_FAKE=("LD_PRELOAD=${library/MT/}" "${fake[@]}")
  say "The clock stands at $at UTC."
}

# Tests count from the clock they meet: a date of these years written into one is a test that will break.
check_no_dates_near_now() {
  ! grep -nE '\b20(2[2-9]|[3-9][0-9])[-, ]+(0?[1-9]|1[0-2])[-, ]+(0?[1-9]|[12][0-9]|3[01])\b' -r tests web \
    --include='*.cs' --include='*.test.ts' --include='*.test.tsx' --exclude-dir=node_modules --exclude-dir=bin --exclude-dir=obj
}

check_api_client() {
  cp web/desk/src/data/api.gen.ts "$RUN/api.before.ts"
  npm --prefix web run api && diff -u "$RUN/api.before.ts" web/desk/src/data/api.gen.ts
}

# Prints the brotli size of files; the limits are the product's own budgets.
check_size() {
  local limit=$1
  shift
  node -e '
    const { brotliCompressSync } = require("node:zlib"), fs = require("node:fs");
    const [limit, ...files] = process.argv.slice(1);
    let sum = 0;
    for (const f of files) { const n = brotliCompressSync(fs.readFileSync(f)).length; sum += n; console.log(f, n); }
    console.log(`${sum} of ${limit} bytes`);
    process.exit(sum > Number(limit) ? 1 : 0);' "$limit" "$@"
}

# What index.html loads at once: its entry and the chunks it preloads.
desk_entry_files() { grep -o 'assets/[A-Za-z0-9_.-]*\.js' src/Outcry.Server/wwwroot/index.html | sort -u | sed 's|^|src/Outcry.Server/wwwroot/|'; }

run_vitest() {
  local log="$RUN/log/vitest.log"
  env "${FAKE[@]}" npm --prefix web test 2>&1 | tee "$log" | grep -E '✓|✗|×|FAIL|Error|expected' || true
  VITEST_PASSED=$(sed 's/\x1b\[[0-9;]*m//g' "$log" | awk '/^ +Tests /{for(i=1;i<NF;i++) if($(i+1)=="passed") n+=$i} END{print n+0}')
  VITEST_FAILED=$(sed 's/\x1b\[[0-9;]*m//g' "$log" | awk '/^ +Tests /{for(i=1;i<NF;i++) if($(i+1)=="failed") n+=$i} END{print n+0}')
  [ "$VITEST_PASSED" -gt 0 ] || VITEST_FAILED=$((VITEST_FAILED + 1))
}

# No test takes so long, and no run has so many that fail: what goes beyond is ended, since every test of a house that has fallen
# waits in vain.
MOST_STILL=600
MOST_FAILED=20
MOST_SECONDS=3600

# Tests of the browser that wait until the other lane is through with the core and the server: both take about as long then.
WAITING_BROWSER_TESTS=(Outcry.Browser.Tests.DeskWalkTests Outcry.Browser.Tests.TeamWalkTests)

# Plays tests of one project under a name, and once more all of them if they came to a standstill. Waits for that process and for
# nothing that it leaves behind.
run_tests_of() {
  local name=$1 project=$2 log="$RUN/log/test-$1.log"
  shift 2
  play_tests_of "$name" "$project" "$log" "$@" || {
    cp "$log" "$log.still"
    play_tests_of "$name" "$project" "$log" "$@" || echo "  failed: 1" >>"$log"
  }
}

# Fails where nothing went on any more; whether tests passed stands in the log.
play_tests_of() {
  local name=$1 project=$2 log=$3 running="$RUN/running-$1" pid still= began=$SECONDS
  shift 3
  rm -rf "$running"
  mkdir -p "$running"
  # A group of its own, so that what it leaves behind is ended with it.
  setsid env "${FAKE[@]}" OUTCRY_TEST_PG="$PG_CONNECTION" OUTCRY_ROOT="$ROOT" OUTCRY_RUNNING="$running" \
    "tests/Outcry.$project.Tests/bin/Release/net10.0/Outcry.$project.Tests" --no-ansi --no-progress --output Detailed "$@" >"$log" 2>&1 &
  pid=$!
  echo "$pid" >"$RUN/running-$name.pid"
  while is_running "$pid"; do
    sleep 1
    if [ $(($(date +%s) - $(stat -c %Y "$log"))) -gt "$MOST_STILL" ]; then
      still=1
      { say "Nothing went on for $MOST_STILL s. At work were:" && cat "$running"/* && stacks_of "$pid"; } >>"$log" 2>/dev/null
      break
    fi
    if [ "$(grep -ac '^failed ' "$log")" -gt "$MOST_FAILED" ] || [ $((SECONDS - began)) -gt "$MOST_SECONDS" ]; then
      # What was not played any more did not pass.
      { say "Ended after $((SECONDS - began)) s, with more than $MOST_FAILED failures or too late. At work were:" && cat "$running"/*; } >>"$log" 2>/dev/null
      printf '  succeeded: %s\n  failed: %s\n' "$(grep -ac '^passed ' "$log")" "$(($(grep -ac '^failed ' "$log") + 1))" >>"$log"
      break
    fi
  done
  kill -KILL -- "-$pid" 2>/dev/null || true
  wait "$pid" 2>/dev/null || true
  [ -z "$still" ]
}

# Ends what runs when the command itself is ended.
end_tests() {
  local file
  for file in "$RUN"/running-*.pid; do kill -KILL -- "-$(cat "$file")" 2>/dev/null; done
  exit 130
}

# Where the threads of a process stand.
stacks_of() { timeout 60 dotnet dotnet-stack report -p "$1" | grep -vE '^\s*$' | head -n 400; }

run_dotnet_test() {
  local name browser names=(Core Server Browser) logs=() first=() later=()
  # Whoever chooses tests by a filter has them played as they are chosen.
  if [ $# -eq 0 ]; then
    names+=(Browser-later)
    for name in "${WAITING_BROWSER_TESTS[@]}"; do first+=(--filter-not-class "$name") later+=(--filter-class "$name"); done
  fi
  rm -f "$RUN"/running-*.pid "$RUN"/log/test-*.still
  trap end_tests INT TERM
  run_tests_of Browser Browser "${first[@]}" "$@" &
  browser=$!
  run_tests_of Core Core "$@"
  run_tests_of Server Server "$@"
  [ ${#later[@]} -eq 0 ] || run_tests_of Browser-later Browser "${later[@]}"
  wait "$browser" || true
  trap - INT TERM
  for name in "${names[@]}"; do logs+=("$RUN/log/test-$name.log"); done
  for name in "${logs[@]}"; do
    [ ! -f "$name.still" ] || { say "A standstill, and all of it again:" && grep -a -A 40 '^Nothing went on' "$name.still"; }
  done
  grep -avhE '^\s*$|^passed ' "${logs[@]}" | tail -n 80
  DOTNET_PASSED=$(cat "${logs[@]}" | awk '/^  succeeded:/{n+=$2} END{print n+0}')
  DOTNET_FAILED=$(cat "${logs[@]}" | awk '/^  failed:/{n+=$2} END{print n+0}')
  # What told no sum came to no end.
  [ "$(grep -alE '^  succeeded:' "${logs[@]}" | wc -l)" -eq ${#logs[@]} ] || DOTNET_FAILED=$((DOTNET_FAILED + 1))
  cat "${logs[@]}" >"$RUN/log/dotnet-test.log"
  [ "$DOTNET_FAILED" -eq 0 ] || second_try "$RUN/log/dotnet-test.log"
}

# A browser or a server on a busy machine may be late once; what is wrong fails twice. A few tests of them get a second try, alone,
# and are named; anything else that failed stays failed.
second_try() {
  local log=$1 names name project
  names=$(failed_tests "$log")
  if [ -z "$names" ] || [ "$(grep -ac '^failed ' "$log")" -ne "$DOTNET_FAILED" ] || [ "$DOTNET_FAILED" -gt 5 ] ||
    grep -qvE '^Outcry\.(Browser|Server)\.Tests\.' <<<"$names"; then return; fi
  say "A second try for:" $names
  for project in Server Browser; do
    local filters=() again="$RUN/log/second-try-$project.log"
    for name in $names; do [[ $name != Outcry.$project.* ]] || filters+=(--filter-method "$name"); done
    [ ${#filters[@]} -gt 0 ] || continue
    play_tests_of "again-$project" "$project" "$again" "${filters[@]}" && grep -aqE '^  failed: 0' "$again" || { tail -n 40 "$again"; return; }
  done
  DOTNET_PASSED=$((DOTNET_PASSED + DOTNET_FAILED))
  DOTNET_FAILED=0
  say "They passed alone. Why they were late is worth a look: $log"
}

# The full names of the tests that failed, a line each.
failed_tests() { grep -aoE '^failed [A-Za-z0-9_.]+' "$1" | awk '{print $2}' | sort -u || true; }

test_command() {
  FAKE=()
  local at=
  # The long form plays many more random page views through both queues.
  if [ "${1:-}" = --long ]; then
    export OUTCRY_LONG=1
    shift
  fi
  if [ "${1:-}" = --at ]; then
    at=${2:-}
    shift 2 || die "--at wants a date, like 2028-02-29 12:00."
  fi
  check_machine
  install_packages postgresql-15 chromium chromium-driver nginx-light haproxy
  build_packages
  [ -z "$at" ] || fake_clock "$at"
  pg_start
  rm -f "$RUN/stamp/web"
  build_web
  step "building everything, warnings as errors"
  logged dotnet-tools dotnet tool restore
  logged dotnet-build-all dotnet build Outcry.slnx -c Release -v q
  step_done
  check "no dates near now in tests" check_no_dates_near_now
  check "csharp format" dotnet csharpier check .
  check "web format and lint" npm --prefix web run check
  check "web types" npm --prefix web run types
  check "api client is current" check_api_client
  check "snippet within 6 KB brotli" check_size 6144 src/Outcry.Server/wwwroot/snippet/outcry.js
  check "launcher within 4 KB brotli" check_size 4096 src/Outcry.Server/wwwroot/snippet/launch.js
  check "talk within 18 KB brotli" check_size 18432 src/Outcry.Server/wwwroot/snippet/talk.js
  # shellcheck disable=SC2046
  check "desk first view within 200 KB brotli" check_size 204800 $(desk_entry_files)
  check "a house of its own: served, behind TLS, backed up, restored" scripts/prove-house.sh
  run_vitest
  run_dotnet_test "$@"
  # Whoever comes next wants the true clock.
  [ -z "$at" ] || pg_stop
  local passed=$((CHECKS_PASSED + VITEST_PASSED + DOTNET_PASSED)) failed=$((CHECKS_FAILED + VITEST_FAILED + DOTNET_FAILED))
  # Where only the end of a long output is kept, what failed is still to be read.
  [ "$DOTNET_FAILED" -eq 0 ] || failed_tests "$RUN/log/dotnet-test.log" | sed 's/^/failed: /'
  printf '\n%s passed, %s failed\n' "$passed" "$failed"
  [ "$failed" -eq 0 ]
}
