#!/usr/bin/env bash
# The test run.

# Everything is compiled once; then parts of the tests run beside each other, each with one processor, as a machine with
# two has them, and each with a database of its own.

FRONT_END="$STATE/front-end"

# The short run tries a fifth of the cases and leaves out what is tagged as long.
cases() { # SHARE : 1 for all cases, and for what takes long
  SHARE="$1"
  CASES=()
  [ "$SHARE" = 1 ] || CASES=(-DexcludedGroups=long)
}
cases 5

part() { # NAME COMMAND... : runs a part of the tests behind, with its own record
  local name="$1"
  shift
  (
    SECONDS=0
    # Within a list such as "… || status=$?" a function goes on after a command of it has failed, so it is none of one.
    set +e
    (set -e; "$@") >"$STATE/test-$name.log" 2>&1
    status=$?
    # Within a pipe it would tell of a process that has done nothing.
    times >"$STATE/test-$name.times"
    computed="$(awk 'NR == 2 { split($0, of, /[ms ]+/); print int(of[1] * 60 + of[2] + of[3] * 60 + of[4]) }' "$STATE/test-$name.times")"
    [ "$status" = 0 ] && say "  passed $name in $SECONDS s, $computed s of a processor" ||
      say "  FAILED $name after $SECONDS s; what it said stands in $STATE/test-$name.log"
    exit "$status"
  ) &
  PARTS["$name"]=$!
}

parts_end() { # waits for what runs; shows what the failed ones said
  local name failed=()
  for name in "${!PARTS[@]}"; do
    wait "${PARTS[$name]}" || failed+=("$name")
  done
  PARTS=()
  [ ${#failed[@]} != 0 ] || return 0
  for name in "${failed[@]}"; do
    say "--- $name"
    grep -vE '^\[INFO\] (Download|$)|^\s+at (java|jdk|org.junit|org.apache)' "$STATE/test-$name.log" | tail -150
  done
  fail "not passed: ${failed[*]}"
}

compiled() { # MODULES ARGUMENT... : runs tests of modules that are compiled
  local modules="$1"
  shift
  (cd "$ROOT" && mvn -B -ntp test -Dmaven.main.skip -Dmaven.test.skip -Dstyle.color=never -Dtests.share="$SHARE" "${CASES[@]}" -pl "$modules" "$@")
}

# The front end is built once, with the server's package; the server of the browser tests is given what came of it.
compile_all() {
  (cd "$ROOT" && mvn -q -B -ntp package -DskipTests -Dspotless.check.skip)
  rm -rf "$FRONT_END"
  mkdir -p "$FRONT_END"
  cp -r "$ROOT/server/target/quinoa/build" "$FRONT_END/built"
  echo '{"name": "built", "scripts": {"build": "cp -r built dist"}}' >"$FRONT_END/package.json"
  echo '{}' >"$FRONT_END/package-lock.json"
}

script_tests() {
  "$ROOT/tests/parts.sh"
  "$ROOT/tests/cluster.sh"
}

front_end_tests() {
  (cd "$ROOT/web" && npm run --silent check && npm run --silent test)
}

# What a test runs runs a few times, so only what is used most is worth compiling well: less of what starts, asks and
# ends than of what computes for long.
RARELY_COMPILED="-XX:Tier4InvocationThreshold=50000 -XX:Tier4MinInvocationThreshold=10000 -XX:Tier4CompileThreshold=150000 -XX:Tier4BackEdgeThreshold=400000"
LESS_COMPILED="-XX:Tier4InvocationThreshold=15000 -XX:Tier4MinInvocationThreshold=2000 -XX:Tier4CompileThreshold=45000 -XX:Tier4BackEdgeThreshold=120000"

format_check() {
  (cd "$ROOT" && mvn -q -B -ntp spotless:check)
}

core_tests() {
  compiled core,files,traffic,standins,gateway,cli,benchmarks,replay -Dtests.jvm="-XX:+UseSerialGC -Xmx2g $LESS_COMPILED"
  # One parser in each module's machine, coverage-guided; what breaks one is left in files/ or traffic/.
  JAZZER_FUZZ=1 compiled core,files,traffic -Dtest='ParsersFuzzTest#everyParser,ReadersFuzzTest#everyReader' \
    -Djazzer.max_duration="$((25 / SHARE))s"
}

# Whoever kills the processes of a database takes it away from everybody, so these have a cluster of their own.
packaged_tests() ( # NAME TESTS
  STATE="$STATE/$1"
  CLUSTER_OF="$STATE"
  SECRETS="$STATE/secrets-$(id -u)"
  mkdir -p "$STATE"
  use_test_database
  server_tests "$1" "$2"
)

# Each in a cluster of its own, for one of them kills databases.
packaged_servers() {
  packaged_tests killed CrashIT
  packaged_tests packaged '*IT,!CrashIT'
}

browser_tests() { # JOINT : the tests in the browser, each with the joint before it but the first
  (cd "$ROOT/server/src/test/java/ironsieve/server/browser" && echo *Test.java | sed "s/\.java//g; s/ /$1/g")
}

# Both processors have something to do until the end: what the packaged servers take less than the API, the browser has.
packaged_and_browser() {
  packaged_servers
  server_tests browser "$(browser_tests ,)"
}

server_tests() { # DATABASE TESTS
  IRON_SIEVE_REPLAY_JVM="-XX:+UseSerialGC -XX:TieredStopAtLevel=1" IRON_SIEVE_FRONT_END="$FRONT_END" IRON_SIEVE_TEST_DB_URL="$(test_database "$1")" \
    compiled core,files,traffic,standins,server -Dlibrary.tests.skip -Dquarkus.generate-code.skip=true -Dtest="$2" \
    -Dtests.jvm="-XX:+UseSerialGC $RARELY_COMPILED"
}

LONG='!ReadersFuzzTest,!HostileCapturesTest,!MatcherAgreesTest,!ReviewAgreesTest,!RemediesTest,!MatchingAgreesTest,!FollowingAgreesTest,!UnfoldingAgreesTest,!ImpactAgreesTest,!DecisionsAgreeTest,!ReachAgreesTest,!WordsAgreeTest,!ParsersFuzzTest'

# What is not committed yet, or else the last commit.
changed() { # PATHS... : whether something in them has changed; where nobody can say, it has
  local uncommitted
  cd "$ROOT"
  uncommitted="$(git status --porcelain)" || return 0
  [ -z "$uncommitted" ] || { [ -n "$(git status --porcelain -- "$@")" ]; return; }
  [ -n "$(git diff --name-only HEAD~1 -- "$@" || echo everything)" ]
}

quick_tests() {
  if changed web; then part front-end front_end_tests; fi
  part compile compile_all
  parts_end
  say "Tests of what has changed, beside each other"
  if changed core files traffic standins gateway cli benchmarks replay demo; then
    part core compiled core,files,traffic,standins,gateway,cli,benchmarks,replay -Dtest="$LONG" -Dtests.jvm="-XX:+UseSerialGC"
  fi
  if changed web server traffic standins gateway demo; then
    part tasks server_tests shared 'BenchTasksTest,ApiTest,StepsTest'
  fi
  parts_end
}

run_tests() {
  [[ "$*" =~ ^(--quick|--long)?$ ]] || fail "test takes only --quick or --long, not $*."
  [ "$*" != --long ] || cases 1
  need_space
  need_tools browser
  front_end_packages
  declare -gA PARTS=()
  use_test_database
  [ "$*" != --quick ] || { quick_tests; return; }
  say "Compiling; the front end's own tests"
  part front-end front_end_tests
  part scripts script_tests
  part format format_check
  part compile compile_all
  parts_end
  say "The tests, beside each other"
  part core core_tests
  part server server_tests shared "*Test,!$(browser_tests ,!)"
  part browser packaged_and_browser
  parts_end
}

# Coverage-guided, each parser in a machine of its own; what breaks one is left in files/ or traffic/.
fuzz() { # [SECONDS [PARSER…]]
  local seconds="${1:-60}" parser
  [[ "$seconds" =~ ^[0-9]+$ ]] || fail "fuzz takes a number of seconds, such as ./sieve fuzz 300."
  need_tools
  [ $# -gt 1 ] && shift || set -- rulebaseText values probes outcomes json captures streams datagrams opened flows syslog signatures
  for parser in "$@"; do
    say "Fuzzing $parser for $seconds seconds"
    (cd "$ROOT" && JAZZER_FUZZ=1 mvn -q -B -ntp test -pl core,files,traffic -Dtest="ParsersFuzzTest#$parser,ReadersFuzzTest#$parser" -Dsurefire.failIfNoSpecifiedTests=false \
      "-Djazzer.max_duration=${seconds}s") >"$STATE/fuzz-$parser.log" 2>&1 ||
      fail "$parser: something was found; see $STATE/fuzz-$parser.log."
  done
}
