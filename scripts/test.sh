# ./kinetra test [PART …]: runs the parts, says what each did, and closes with the sum.

all_parts=(format core media gear data server web e2e)
passed=0
failed=0

run_tests() {
  local parts=("$@") part
  [ ${#parts[@]} -gt 0 ] || parts=("${all_parts[@]}")
  for part in "${parts[@]}"; do
    [[ " ${all_parts[*]} " == *" $part "* ]] || fail "test: “$part” is not a part; there are: ${all_parts[*]}"
  done
  need_tools
  need_packages postgresql libsndfile1 curl chromium ffmpeg
  mkdir -p .kinetra
  prepare_test_home

  for part in "${parts[@]}"; do
    say ''
    say "== $part"
    "part_$part"
  done
  say ''
  say "$passed passed, $failed failed"
  [ "$failed" = 0 ]
}

# A folder and a PostgreSQL of this run's own, gone when it ends.
prepare_test_home() {
  test_home=$(mktemp -d /tmp/kinetra-test.XXXXXX)
  chmod 711 "$test_home"
  database_started_here=''
  trap 'clean_up' EXIT
  trap 'exit 130' INT
  trap 'exit 143' TERM
  # A test's database need not survive the machine.
  KINETRA_PG_OPTIONS='-c fsync=off -c full_page_writes=off' start_database "$test_home/database" tests
}

clean_up() {
  trap - EXIT
  [ -z "$database_started_here" ] || stop_database "$test_home/database"
  rm -rf "$test_home"
}

count() { passed=$((passed + $1)); failed=$((failed + $2)); }

# One check that passes or fails as a whole.
check() { # NAME COMMAND …
  local name=$1; shift
  if "$@" >"$test_home/check.log" 2>&1; then say "ok: $name"; count 1 0; else cat "$test_home/check.log"; say "FAILED: $name"; count 0 1; fi
}

part_format() {
  install_node web
  build_server
  dotnet restore Kinetra.slnx -v quiet
  check 'C# is formatted' dotnet format Kinetra.slnx --verify-no-changes --no-restore --verbosity quiet
  check 'the front end is formatted and linted' sh -c 'cd web && npx biome check --error-on-warnings .'
  check 'the end-to-end tests are formatted' sh -c 'cd web && npx biome check --error-on-warnings --config-path=. ../tests/e2e'
}

dotnet_part() { # PROJECT
  local log="$test_home/$1.log"
  if ! dotnet build "tests/Kinetra.$1.Tests" -c Release -v quiet --nologo -clp:NoSummary >"$log" 2>&1; then
    cat "$log"
    say "FAILED: Kinetra.$1.Tests does not build"
    count 0 1
    return
  fi
  run_dotnet_tests "$1"
}

run_dotnet_tests() { # PROJECT
  local log="$test_home/$1.log" line
  dotnet "tests/Kinetra.$1.Tests/bin/Release/net10.0/Kinetra.$1.Tests.dll" -noColor >"$log" 2>&1 || true
  grep -vE '^ +(Discover|Start|Finish)|^xUnit|^$' "$log" | tail -n 200
  line=$(grep -oE 'Total: [0-9]+, Errors: [0-9]+, Failed: [0-9]+' "$log" | tail -n 1) || true
  if [[ $line =~ Total:\ ([0-9]+),\ Errors:\ ([0-9]+),\ Failed:\ ([0-9]+) ]]; then
    count $((BASH_REMATCH[1] - BASH_REMATCH[2] - BASH_REMATCH[3])) $((BASH_REMATCH[2] + BASH_REMATCH[3]))
  else
    count 0 1
  fi
}

# Most computers have no AVX-512: there the wide forms are others.
part_core() {
  dotnet_part Core
  if grep -q avx512f /proc/cpuinfo && [ -f tests/Kinetra.Core.Tests/bin/Release/net10.0/Kinetra.Core.Tests.dll ]; then
    say '-- the same without AVX-512'
    DOTNET_EnableAVX512F=0 run_dotnet_tests Core
  fi
}
part_media() { dotnet_part Media; }
part_gear() { dotnet_part Gear; }
part_data() { dotnet_part Data; }
part_server() { dotnet_part Server; }

# Counts what a JavaScript test runner says in its JSON report.
count_json() { # FILE PASSED FAILED (expressions on the report r)
  local numbers
  if numbers=$(node -e "const r=JSON.parse(require('fs').readFileSync('$1','utf8'));console.log($2, $3)"); then
    # shellcheck disable=SC2086
    count $numbers
  else
    count 0 1
  fi
}

part_web() {
  install_node web
  build_server
  check 'the front end builds' build_web
  (cd web && npx vitest run --reporter=default --reporter=json --outputFile.json="$test_home/web.json") || true
  count_json "$test_home/web.json" r.numPassedTests 'r.numFailedTests + r.numFailedTestSuites'
}

part_e2e() {
  install_node tests/e2e
  build_server
  build_web
  # What goes by real time has the machine to itself.
  e2e_run still 2
  e2e_run sound 1
}

e2e_run() { # PROJECT WORKERS
  (cd tests/e2e && PLAYWRIGHT_JSON_OUTPUT_NAME="$test_home/e2e-$1.json" KINETRA_PG_BIN=$(pg_bin) KINETRA_TEST_HOME=$test_home \
    npx playwright test --project="$1" --workers="$2" --reporter=list,json) || true
  count_json "$test_home/e2e-$1.json" r.stats.expected 'r.stats.unexpected + r.stats.flaky + r.errors.length'
}
