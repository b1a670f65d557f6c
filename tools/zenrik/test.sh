source tools/zenrik/start.sh

# Every suite on a cluster of its own, made for this run and gone after it. The last line counts all suites together.

passed=0
failed=0
# The names of those that failed in .NET, told again before the counts; the browser's come last anyhow.
wrong=

run_tests() {
  local suites=("$@") suite
  [ ${#suites[@]} -gt 0 ] || suites=(core workshop hard browser)
  for suite in "${suites[@]}"; do
    case "$suite" in core | workshop | hard | browser) ;; *) fail "There is no suite \"$suite\"." "Suites: core, workshop, hard, browser." ;; esac
  done
  need_dotnet
  # What lives for minutes does not win back what the runtime spends on learning which of its code is hot.
  export DOTNET_TieredPGO=0
  quietly "Building everything" dotnet build Zenrik.slnx -c Release -v quiet
  for suite in "${suites[@]}"; do
    say "── $suite"
    "test_$suite"
  done
  [ -z "$wrong" ] || say "$wrong"
  say "$passed passed, $failed failed"
  [ "$failed" -eq 0 ]
}

test_core() { run_xunit tests/Zenrik.Core.Tests; }

test_workshop() {
  test_cluster
  ZENRIK_TEST_CONNECTION=$(connection_to "$TEST_CLUSTER" postgres) run_xunit tests/Zenrik.Workshop.Tests
}

# The hard days a CI can afford, each on a world of its own.
test_hard() {
  local log
  log=$(mktemp)
  tests/hard/run short 2>&1 | tee "$log" || true
  passed=$((passed + $(grep -c "^ok " "$log" || true)))
  failed=$((failed + $(grep -c "^not ok " "$log" || true)))
  grep -qE "^(not )?ok " "$log" || failed=$((failed + 1))
  rm -f "$log"
}

test_browser() {
  need_browser
  test_cluster
  if [ ! -f tests/browser/node_modules/.package-lock.json ] || [ tests/browser/package-lock.json -nt tests/browser/node_modules/.package-lock.json ]; then
    quietly "Installing the browser tests' packages" npm --prefix tests/browser ci --ignore-scripts --no-fund --no-audit
  fi
  build_programs
  local report
  report=$(mktemp)
  ZENRIK_TEST_CONNECTION=$(connection_to "$TEST_CLUSTER" postgres) ZENRIK_TEST_CLUSTER="$TEST_CLUSTER" \
    ZENRIK_TEST_WEB_CONNECTION=$(web_connection_to "$TEST_CLUSTER" postgres) \
    PLAYWRIGHT_JSON_OUTPUT_NAME="$report" npm --prefix tests/browser test --silent || true
  count_playwright "$report"
  rm -f "$report"
}

# One cluster a run; settings trade safety against a power cut for speed, which a test database may.
test_cluster() {
  [ -z "${TEST_CLUSTER:-}" ] || return 0
  need_postgres
  TEST_CLUSTER=$(cluster_home "test-$$")
  trap 'stop_cluster "$TEST_CLUSTER"; rm -rf "$TEST_CLUSTER"*' EXIT
  trap 'exit 130' INT
  trap 'exit 143' TERM
  make_cluster "$TEST_CLUSTER"
  start_test_cluster
}

start_test_cluster() { start_cluster "$TEST_CLUSTER" max_connections=500 fsync=off synchronous_commit=off full_page_writes=off; }

run_xunit() {
  local name log summary total bad
  name=$(basename "$1")
  log=$(mktemp)
  "$1/bin/Release/net10.0/$name" -noColor | tee "$log" || true
  # What a test shows of its bytes may be anything.
  summary=$(grep -aE "^ +$name +Total:" "$log" | tail -n 1 || true)
  wrong=$(printf '%s\n' "$wrong" "$(grep -aE "\[FAIL\]" "$log" | tr -d '\0')" | sed '/^$/d')
  rm -f "$log"
  if [ -z "$summary" ]; then
    say "$name ended without a summary."
    failed=$((failed + 1))
    return
  fi
  total=$(sed -E 's/.*Total: ([0-9]+).*/\1/' <<<"$summary")
  bad=$(($(sed -E 's/.*Errors: ([0-9]+).*/\1/' <<<"$summary") + $(sed -E 's/.*Failed: ([0-9]+).*/\1/' <<<"$summary")))
  passed=$((passed + total - bad))
  failed=$((failed + bad))
}

# A report that ran nothing, or that has errors of its own (a set-up that failed), counts as one failure at least.
count_playwright() {
  local counts
  counts=$(node -e '
    const { stats, errors } = JSON.parse(require("fs").readFileSync(process.argv[1], "utf8"));
    const ran = stats.expected + stats.flaky + stats.unexpected;
    console.log(stats.expected + stats.flaky, stats.unexpected + stats.skipped + errors.length + (ran ? 0 : 1));
    ' "$1" 2>/dev/null) || counts="0 1"
  passed=$((passed + ${counts% *}))
  failed=$((failed + ${counts#* }))
}
