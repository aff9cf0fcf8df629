#!/usr/bin/env bash
# Builds the server, the command line and the replay where their sources are newer.

front_end_packages() {
  local stamp="$ROOT/web/node_modules/.installed"
  if [ ! -e "$stamp" ] || [ "$ROOT/web/package-lock.json" -nt "$stamp" ]; then
    say "Installing the front end's packages …"
    (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error) >"$STATE/npm.log" 2>&1 ||
      fail "npm could not install the front end's packages; see $STATE/npm.log."
    touch "$stamp"
  fi
}

build_modules() { # MODULES ARGUMENT... : builds modules without tests and checks
  local modules="$1"
  shift
  (cd "$ROOT" && mvn -q -B -ntp -DskipTests -Dspotless.check.skip -Dmdep.analyze.skip -pl "$modules" "$@" package)
}

sources_newer() {
  [ ! -e "$JAR" ] || [ -n "$(find "$ROOT/core/src/main" "$ROOT/files/src/main" "$ROOT/traffic/src/main" "$ROOT/standins/src/main" "$ROOT/server/src/main" "$ROOT/web/src" "$ROOT/web/index.html" "$ROOT/web/package-lock.json" "$ROOT/demo" "$ROOT"/*/pom.xml -newer "$JAR" -type f -print -quit)" ]
}

CLI="$ROOT/cli/target"

build_cli() {
  [ -d "$CLI/lib" ] && [ -z "$(find "$ROOT/core/src/main" "$ROOT/files/src/main" "$ROOT/traffic/src/main" "$ROOT/cli/src/main" "$ROOT"/{core,files,traffic,cli}/pom.xml -newer "$CLI/lib" -type f -print -quit)" ] && return 0
  say "Building …" >&2
  build_modules core,files,traffic,cli >"$STATE/build-cli.log" 2>&1 ||
    fail "the build failed; see $STATE/build-cli.log."
  touch "$CLI/lib"
}

REPLAY="$ROOT/replay/target"

build_replay() {
  [ -d "$REPLAY/engine" ] && [ -z "$(find "$ROOT"/{core,files,traffic,replay}/src/main "$ROOT"/{core,files,traffic,replay}/pom.xml -newer "$REPLAY/engine" -type f -print -quit)" ] && return 0
  say "Building; the first time the engine is fetched …" >&2
  build_modules core,files,traffic,replay >"$STATE/build-replay.log" 2>&1 ||
    fail "the build failed; see $STATE/build-replay.log."
  replay_archive
  touch "$REPLAY/engine"
}

GATEWAY="$ROOT/gateway/target"

# What the engine reaches into of Java itself.
OPENED=()
for package in java.lang java.lang.invoke java.nio java.util sun.nio.ch sun.security.action; do
  OPENED+=("--add-opens=java.base/$package=ALL-UNNAMED")
done

replay_classes() { echo "$(echo "$REPLAY"/*.jar | tr ' ' ':'):$REPLAY/lib/*:$REPLAY/engine/*"; }

# The engine's thousands of classes as they lie in memory, so that a replay starts in two thirds of the time.
replay_archive() {
  local folder
  folder="$(mktemp -d)"
  head -n 200 "$ROOT/demo/replay/one month.csv" >"$folder/little.csv"
  rm -f "$REPLAY/classes.jsa"
  java -XX:ArchiveClassesAtExit="$REPLAY/classes.jsa" "${OPENED[@]}" -cp "$(replay_classes)" ironsieve.replay.ReplayMain \
    --in "$folder/little.csv" --out "$folder/out" --rulebase "$ROOT/demo/rulebases/main-gateway.rules" --company "$ROOT/demo" \
    --against "$ROOT/demo/rulebases/saltmere-rose.rules" >/dev/null 2>&1 || true
  rm -rf "$folder"
}

# IRON_SIEVE_REPLAY_JVM gives Java more options, such as -Xmx8g.
replay() {
  need_tools
  build_replay
  # shellcheck disable=SC2086 # several options
  exec java ${IRON_SIEVE_REPLAY_JVM:-} -XX:SharedArchiveFile="$REPLAY/classes.jsa" -Xlog:cds=off -Xlog:cds+dynamic=off "${OPENED[@]}" \
    -Diron-sieve.company="$ROOT/demo" -cp "$(replay_classes)" ironsieve.replay.ReplayMain "$@"
}

# Each command runs once and ends, so it is not worth while to compile for long; and one thread collects garbage.
CLI_FLAGS=(-XX:TieredStopAtLevel=1 -XX:+UseSerialGC -Xshare:auto)

# Classes as they lie in memory, so that a command need not read them one by one; a JVM that cannot use it reads them.
archive_classes() {
  [ -e "$CLI/classes.jsa" ] && [ -z "$(find "$CLI/lib" "$CLI"/*.jar -newer "$CLI/classes.jsa" -print -quit)" ] && return 0
  rm -f "$CLI/classes.jsa"
  java "${CLI_FLAGS[@]}" -XX:ArchiveClassesAtExit="$CLI/classes.jsa" -cp "$(cli_path)" ironsieve.cli.Main \
    probe --company "$ROOT/demo" "$ROOT/demo/rulebases/main-gateway.rules" "from Offices to Internet" >/dev/null 2>&1 || true
}

# The tests leave a jar of their own beside it, whose name ends in tests.jar.
cli_path() {
  printf '%s' "$CLI"/iron-sieve-cli-*[!s].jar
  printf ':%s' "$CLI"/lib/*.jar
}

without_server() { # COMMAND ARGUMENT... : the command line, from where it was called
  need_tools
  build_cli
  archive_classes
  exec java "${CLI_FLAGS[@]}" -XX:SharedArchiveFile="$CLI/classes.jsa" -Xlog:disable -Diron-sieve.company="$ROOT/demo" \
    -cp "$(cli_path)" ironsieve.cli.Main "$@"
}

build() {
  sources_newer || return 0
  front_end_packages
  say "Building (a minute or two the first time) …"
  build_modules core,files,traffic,standins,server >"$STATE/build.log" 2>&1 ||
    fail "the build failed; see $STATE/build.log."
  touch "$JAR"
}
