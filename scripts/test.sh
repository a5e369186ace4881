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
  cp web/desk/src/lib/api.gen.ts "$RUN/api.before.ts"
  npm --prefix web run api && diff -u "$RUN/api.before.ts" web/desk/src/lib/api.gen.ts
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

run_dotnet_test() {
  local log="$RUN/log/dotnet-test.log" code=0
  env "${FAKE[@]}" OUTCRY_TEST_PG="$PG_CONNECTION" OUTCRY_ROOT="$ROOT" \
    dotnet test --solution Outcry.slnx -c Release --no-build --max-parallel-test-modules 2 "$@" >"$log" 2>&1 || code=$?
  grep -vE '^\s*$|passed \(|^Running tests' "$log" | tail -n 80
  DOTNET_PASSED=$(awk '/succeeded:/{n=$2} END{print n+0}' "$log")
  DOTNET_FAILED=$(awk '/failed:/{n=$2} END{print n+0}' "$log")
  [ "$code" -eq 0 ] || [ "$DOTNET_FAILED" -gt 0 ] || DOTNET_FAILED=1
  [ "$DOTNET_FAILED" -eq 0 ] || second_try "$log"
}

# A browser on a busy machine may be late once; what is wrong fails twice. A few tests of the browser get a second try, alone,
# and are named; anything else that failed stays failed.
second_try() {
  local log=$1 again="$RUN/log/second-try.log" names filters=() name
  names=$(grep -aoE '^failed [A-Za-z0-9_.]+' "$log" | awk '{print $2}' | sort -u)
  if [ -z "$names" ] || [ "$(wc -l <<<"$names")" -gt 5 ] || grep -qv '^Outcry\.Browser\.Tests\.' <<<"$names"; then return; fi
  for name in $names; do filters+=(--filter-method "$name"); done
  say "A second try for:" $names
  if env "${FAKE[@]}" OUTCRY_TEST_PG="$PG_CONNECTION" OUTCRY_ROOT="$ROOT" \
    dotnet test --project tests/Outcry.Browser.Tests -c Release --no-build "${filters[@]}" >"$again" 2>&1; then
    DOTNET_PASSED=$((DOTNET_PASSED + DOTNET_FAILED))
    DOTNET_FAILED=0
    say "They passed alone. Why they were late is worth a look: $log"
  else
    tail -n 40 "$again"
  fi
}

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
  printf '\n%s passed, %s failed\n' "$passed" "$failed"
  [ "$failed" -eq 0 ]
}
