#!/usr/bin/env bash
# Iron Sieve: start · export · import · test · check · probe · impact · fmt · convert · bench · reset · stop. Each command does all its own set-up.
set -euo pipefail

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
STATE="$ROOT/.sieve"
CLUSTER_OF="$ROOT"
PORT=7340
GENERATED=0
PG_VERSION=15
PG_BIN="/usr/lib/postgresql/$PG_VERSION/bin"
JAR="$ROOT/server/target/quarkus-app/quarkus-run.jar"
export PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1
# Rather often and little than seldom and long: an edit is answered while somebody looks on.
SHORT_PAUSES="-XX:MaxGCPauseMillis=25"
# The compiler runs for a minute at most, so it is not worth while to compile it well.
export MAVEN_OPTS="-XX:TieredStopAtLevel=1 -XX:+UseSerialGC ${MAVEN_OPTS:-}"

say() { printf '%s\n' "$*"; }
fail() { printf 'sieve: %s\n' "$*" >&2; exit 1; }

usage() {
  cat <<TEXT
./sieve start [--port N] [--empty | --archive FILE] [--generated N] [--recordings FOLDER] [--master URL]
                           builds if needed, starts everything, prints the address; Ctrl-C stops it;
                           where nothing is there yet it begins with the demo company, or with nothing, or
                           with an archive; --generated adds a rulebase of N rules
./sieve export FILE [--port N] [--history]   everything of the running server as one archive
./sieve rulebases COMMAND    lists, makes, copies, imports, exports, renames, archives or removes rulebases of the running server
./sieve import FILE [--port N]   an archive into the running server, on which nothing is yet
./sieve test               every kind of test and check
./sieve test --long        the same with five times as many cases, and what takes long
./sieve test --quick       what the last change needs: its modules without the long properties,
                           and a person's tasks in the browser where the front end or the server changed
./sieve check FILE         the review of a rulebase file, without a server
./sieve probe FILE PROBE   which rule catches a connection
./sieve impact OLD NEW     what another rulebase decides otherwise
./sieve fmt FILE           writes a file the one way it is written
./sieve convert FILE --to rules|json|csv|acl
./sieve identify CAPTURE   the connections of a capture, with application, feature and why
./sieve tape make|run|show FILE   recorded traffic as a tape, through a rulebase, by what it consists of
./sieve replay …           recorded traffic of any size through a rulebase, on all processors or on a cluster
./sieve signatures check   signatures that cannot be read, and pairs that cannot be told apart
                           these take --help
./sieve bench              measures the core beside plain twins; bench workspace [N]: an edition's impact on N rulebases;
                           bench traffic [MB]: identification beside only reading and beside a dissector;
                           bench recorded [LINES]: a month of recorded traffic decided, edited, looked at and read;
                           bench replay [LINES]: the same shared out, beside only reading it;
                           bench server [LINES]: a log loaded into a server of 2 GB while others work on it,
                           beside a plain copy of the same rows into its database
./sieve fuzz [SECONDS]     looks for text that breaks a parser, so long for each
./sieve api-types          makes the front end's types anew after a change of the API
./sieve reset              throws the data away; the next start loads the demo again
./sieve stop               stops a database left running
TEXT
}

# --- what must be there ---------------------------------------------------------------------------

install_packages() { # PACKAGE... : what is missing, in Debian's words
  local line="apt-get install -y --no-install-recommends $*"
  [ "$(id -u)" = 0 ] || fail "missing from this machine: $*. Run: sudo $line"
  command -v apt-get >/dev/null || fail "missing from this machine: $*, and there is no apt-get to install it with."
  # Debian would otherwise start a cluster of its own; ours lives in the project.
  if printf '%s ' "$@" | grep -q postgresql; then
    mkdir -p /etc/postgresql-common
    [ -e /etc/postgresql-common/createcluster.conf ] ||
      echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
  fi
  say "Installing $* …"
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive $line -qq; } >"$STATE/install.log" 2>&1 ||
    fail "installing $* failed; see $STATE/install.log."
}

need_tools() {
  local missing=() version
  command -v java >/dev/null || missing+=(openjdk-17-jdk-headless)
  command -v mvn >/dev/null || missing+=(maven)
  command -v node >/dev/null || missing+=(nodejs npm)
  [ -x "$PG_BIN/initdb" ] || missing+=("postgresql-$PG_VERSION")
  command -v setpriv >/dev/null || missing+=(util-linux)
  command -v curl >/dev/null || missing+=(curl)
  # The browser without what a person would see of it around the page: it takes half of the time.
  [ "${1:-}" = browser ] && ! command -v chromium-headless-shell >/dev/null && missing+=(chromium-headless-shell)
  # A real directory to be read in tests; they start one of their own, on loopback.
  [ "${1:-}" = browser ] && [ ! -x /usr/sbin/slapd ] && missing+=(slapd)
  # Real clients and servers whose packets are captured in tests, and a dissector to compare with.
  if [ "${1:-}" = browser ]; then
    command -v tshark >/dev/null || missing+=(tshark)
    command -v tcpdump >/dev/null || missing+=(tcpdump)
    [ -x /usr/sbin/nginx ] || missing+=(nginx-light)
    command -v dig >/dev/null || missing+=(dnsutils)
    [ -x /usr/sbin/gtlsserver ] || missing+=(ngtcp2-server ngtcp2-client)
    command -v openssl >/dev/null || missing+=(openssl)
  fi
  [ ${#missing[@]} = 0 ] || install_packages "${missing[@]}"
  version="$(java -version 2>&1 | sed -n 's/.*version "\([0-9]*\).*/\1/p' | head -1)"
  [ "${version:-0}" -ge 17 ] || fail "this JDK is version ${version:-unknown}; version 17 or newer is needed (apt-get install openjdk-17-jdk-headless, or set JAVA_HOME)."
  command -v javac >/dev/null || fail "there is a java but no javac; install a JDK (apt-get install openjdk-17-jdk-headless)."
}

need_space() {
  local free
  free="$(df -Pm "$ROOT" | awk 'NR==2 {print $4}')"
  [ "$free" -ge 600 ] || fail "only $free MB are free under $ROOT; 600 MB are needed. Make room and try again."
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

free_port() { # prints a free port of loopback
  # The system gives away those above to whoever asks for any, so that one which is free now may be taken a moment later.
  local port
  while port=$((12000 + (RANDOM * 32768 + RANDOM) % 20000)) && port_taken "$port"; do :; done
  echo "$port"
}

# --- the database ---------------------------------------------------------------------------------
# PostgreSQL refuses to run as root, so root hands the cluster to Debian's postgres user.

as_db_user() {
  if [ "$(id -u)" = 0 ]; then
    # From /, so that the user needs no right to see where this was called from.
    (cd / && setpriv --reuid=postgres --regid=postgres --clear-groups env HOME=/tmp "$@")
  else
    "$@"
  fi
}

cluster_dir() {
  if as_db_user test -w "$STATE/db-$(id -u)" 2>/dev/null; then
    echo "$STATE/db-$(id -u)"
  else
    # A checkout that the database user cannot reach, such as one below /root.
    echo "/var/tmp/iron-sieve-$(printf '%s' "$CLUSTER_OF" | cksum | cut -d' ' -f1)"
  fi
}

# Who may do what in the cluster: sieve_owner is its superuser and is used for setting up only; ironsieve, as which the
# server works, owns its databases and nothing else. Both have a password that was made here and that stands in a file
# only its owner can read; nobody gets in without one.

SECRETS="$STATE/secrets-$(id -u)"

new_secret() { head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n'; }

secret() { sed -n "s/^$1=//p" "$SECRETS"; }

# Passwords go through the environment and standard input, for everybody can read the arguments of a process.
psql_as() { # ROLE PASSWORD ARGUMENT... : SQL as one of our roles, never asking for anything
  local role="$1" password="$2"
  shift 2
  PGPASSWORD="$password" as_db_user "$PG_BIN/psql" -w -qtA -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$DB_PORT" -U "$role" "$@"
}

as_owner() { psql_as sieve_owner "$(secret owner)" "$@"; }

guarded() { # the only lines of pg_hba.conf
  printf '%s\n' \
    '# Written by Iron Sieve: connections from this machine only, each with a password.' \
    'host all all 127.0.0.1/32 scram-sha-256' | as_db_user tee "$DB/data/pg_hba.conf" >/dev/null
}

make_secrets() {
  (umask 077 && printf 'owner=%s\nserver=%s\n' "$(new_secret)" "$(new_secret)" >"$SECRETS")
}

make_cluster() {
  say "Making the database cluster …"
  if [ ! -d "$DB" ]; then
    mkdir -m 700 "$DB"
    [ "$(id -u)" != 0 ] || chown postgres:postgres "$DB"
  fi
  make_secrets
  secret owner | as_db_user sh -c 'umask 077 && cat >"$0/first-password"' "$DB"
  as_db_user "$PG_BIN/initdb" -D "$DB/data" -U sieve_owner -A scram-sha-256 --pwfile="$DB/first-password" \
    -E UTF8 --locale=C.UTF-8 >"$STATE/initdb.log" 2>&1 ||
    fail "the database cluster could not be made; see $STATE/initdb.log."
  as_db_user rm -f "$DB/first-password"
  guarded
}

db_run() {
  if as_db_user "$PG_BIN/pg_ctl" -D "$DB/data" status >/dev/null 2>&1; then
    DB_PORT="$(sed -n 4p "$DB/data/postmaster.pid" 2>/dev/null || as_db_user sed -n 4p "$DB/data/postmaster.pid")"
    DB_OURS=no
  else
    DB_PORT="$(free_port)"
    as_db_user "$PG_BIN/pg_ctl" -D "$DB/data" -l "$DB/log" -w -o "-p $DB_PORT -c listen_addresses=127.0.0.1 -c unix_socket_directories=" start >/dev/null 2>&1 ||
      fail "the database did not start; see $DB/log."
    DB_OURS=yes
  fi
}

# A cluster from before there were passwords let everybody in as its superuser, ironsieve. That role can be renamed only
# by another one, and a role that owns the system's own tables cannot hand them on, so the tables go one by one.
move_over() {
  say "Giving the database passwords …"
  make_secrets
  local database
  psql_as ironsieve '' -d postgres -c "create role sieve_mover superuser login" ||
    fail "the database cluster in $DB could not be moved over; see $DB/log. ./sieve reset throws it away."
  psql_as sieve_mover '' -d postgres <<<"alter role ironsieve rename to sieve_owner;
    alter role sieve_owner password '$(secret owner)';"
  guarded
  as_db_user "$PG_BIN/pg_ctl" -D "$DB/data" reload >/dev/null
  until as_owner -d postgres -c 'select 1' >/dev/null 2>&1; do sleep 0.1; done
  as_owner -d postgres -c "drop role sieve_mover"
  ensure_server_role
  for database in $(as_owner -d postgres -c "select datname from pg_database where datname like 'ironsieve%'"); do
    as_owner -d postgres -c "alter database \"$database\" owner to ironsieve"
    as_owner -d "$database" -c "alter schema public owner to ironsieve" -c "do \$\$ declare t record; begin
      for t in select c.relname, c.relkind from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname = 'public' and c.relkind in ('r', 'S', 'v')
        and not exists (select from pg_depend d where d.objid = c.oid and d.deptype in ('a', 'i') and c.relkind = 'S')
      loop execute format('alter table public.%I owner to ironsieve', t.relname); end loop; end \$\$"
  done
}

ensure_server_role() {
  as_owner -d postgres <<<"do \$\$ begin
      if not exists (select from pg_roles where rolname = 'ironsieve') then create role ironsieve; end if; end \$\$;
    alter role ironsieve login nosuperuser nocreaterole nocreatedb noreplication password '$(secret server)';"
}

db_start() {
  mkdir -p "$STATE/db-$(id -u)"
  [ "$(id -u)" != 0 ] || chown postgres:postgres "$STATE/db-$(id -u)"
  DB="$(cluster_dir)"
  as_db_user test -e "$DB/data/PG_VERSION" || make_cluster
  # Without the passwords nobody gets in; whoever owns the files may set new ones, with the database stopped.
  if [ ! -e "$SECRETS" ] && ! as_db_user grep -qE '^(local|host).*[[:space:]]trust' "$DB/data/pg_hba.conf"; then
    as_db_user "$PG_BIN/pg_ctl" -D "$DB/data" -m fast -w stop >/dev/null 2>&1 || true
    make_secrets
    echo "alter role sieve_owner password '$(secret owner)'" | as_db_user "$PG_BIN/postgres" --single -D "$DB/data" postgres >/dev/null 2>&1 ||
      fail "the passwords of the database are gone ($SECRETS) and could not be set anew; ./sieve reset throws the data away."
  fi
  db_run
  if as_db_user grep -qE '^(local|host).*[[:space:]]trust' "$DB/data/pg_hba.conf"; then move_over; fi
  ensure_server_role
}

db_make() { # NAME : makes a database unless it is there
  if [ -z "$(as_owner -d postgres -c "select 1 from pg_database where datname = '$1'")" ]; then
    as_owner -d postgres -c "create database \"$1\" owner ironsieve" -c "comment on database \"$1\" is 'made by ./sieve'"
  fi
}

db_stop() {
  DB="$(cluster_dir)"
  [ -e "$DB/data/PG_VERSION" ] || as_db_user test -e "$DB/data/PG_VERSION" || return 0
  as_db_user "$PG_BIN/pg_ctl" -D "$DB/data" -m fast -w stop >/dev/null 2>&1 || true
}

use_database() { # : starts our own cluster unless another database is named
  if [ -n "${IRON_SIEVE_DB_URL:-}" ]; then
    DB_OURS=no
    return
  fi
  db_start
  trap '[ "$DB_OURS" = no ] || db_stop' EXIT
  db_make ironsieve
  export IRON_SIEVE_DB_URL="jdbc:postgresql://127.0.0.1:$DB_PORT/ironsieve" IRON_SIEVE_DB_USER=ironsieve
  IRON_SIEVE_DB_PASSWORD="$(secret server)"
  export IRON_SIEVE_DB_PASSWORD
}

# Tests wipe their database, so they have one of their own and look at no other, whatever is named.
use_test_database() {
  unset IRON_SIEVE_DB_URL IRON_SIEVE_DB_USER IRON_SIEVE_DB_PASSWORD
  db_start
  trap '[ "$DB_OURS" = no ] || db_stop' EXIT
  IRON_SIEVE_TEST_DB_PASSWORD="$(secret server)"
  export IRON_SIEVE_TEST_DB_PASSWORD
}

test_database() { # PART : makes a database for a part of the tests unless it is there; prints where it is
  local name="ironsieve_test_$1"
  db_make "$name"
  as_owner -d postgres -c "comment on database $name is 'made by ./sieve for tests'"
  echo "jdbc:postgresql://127.0.0.1:$DB_PORT/$name"
}

# --- building -------------------------------------------------------------------------------------

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

cli_path() {
  printf '%s' "$CLI"/iron-sieve-cli-*.jar
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

# --- commands -------------------------------------------------------------------------------------

stop_all() {
  # Nothing here may end the script early: what is left running would be in the way of the next start.
  set +e
  kill "$SERVER" 2>/dev/null
  wait "$SERVER" 2>/dev/null
  [ "$DB_OURS" = no ] || db_stop
  say "Stopped."
}

start() {
  local begin=demo archive="" recordings="$ROOT/demo/replay" master=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) [[ "${2:-}" =~ ^[0-9]+$ ]] || fail "--port takes a number, such as --port 7341."; PORT="$2"; shift 2 ;;
      --generated) [[ "${2:-}" =~ ^[0-9]+$ ]] || fail "--generated takes a number of rules, such as --generated 1000."; GENERATED="$2"; shift 2 ;;
      --empty) begin=ask; shift ;;
      --archive)
        [ -f "${2:-}" ] || fail "--archive takes a file, such as --archive iron-sieve.zip; there is no file \"${2:-}\"."
        archive="$(cd "$(dirname "$2")" && pwd)/$(basename "$2")"
        shift 2
        ;;
      --recordings)
        [ -d "${2:-}" ] || fail "--recordings takes a folder of recorded traffic; there is no folder \"${2:-}\"."
        recordings="$(cd "$2" && pwd)"
        shift 2
        ;;
      --master) [ -n "${2:-}" ] || fail "--master takes the address of a cluster, such as spark://HOST:7077."; master="$2"; shift 2 ;;
      *) fail "start takes only --port N, --empty, --archive FILE, --generated N, --recordings FOLDER and --master URL, not $1." ;;
    esac
  done
  port_taken "$PORT" && fail "port $PORT is taken; stop what uses it or take another: ./sieve start --port $((PORT + 1))"
  need_space
  need_tools
  build
  use_database
  local stand_ins=false
  [ "$begin" = demo ] && [ -z "$archive" ] && stand_ins=true
  java $SHORT_PAUSES -Dquarkus.http.port="$PORT" -Diron-sieve.generated="$GENERATED" -Diron-sieve.begin="$begin" -Diron-sieve.stand-ins="$stand_ins" \
    -Diron-sieve.replay.folder="$recordings" -Diron-sieve.replay.command="$ROOT/sieve" ${master:+-Diron-sieve.replay.master="$master"} \
    ${archive:+-Diron-sieve.archive="$archive"} -jar "$JAR" &
  SERVER=$!
  trap stop_all EXIT
  trap 'exit 0' INT TERM
  local address="http://127.0.0.1:$PORT"
  until curl -fsS "$address/api/health/ready" >/dev/null 2>&1; do
    kill -0 "$SERVER" 2>/dev/null || fail "the server did not start; what it said stands above."
    sleep 0.3
  done
  say "Iron Sieve is at $address (Ctrl-C stops it)"
  wait "$SERVER"
}

# --- archives -------------------------------------------------------------------------------------

of_server() { # WHAT FILE [--port N] : reads FILE and PORT
  local what="$1"
  shift
  HISTORY=""
  [ $# -ge 1 ] || fail "$what takes a file, such as ./sieve $what iron-sieve.zip."
  FILE="$1"
  shift
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) [[ "${2:-}" =~ ^[0-9]+$ ]] || fail "--port takes a number, such as --port 7341."; PORT="$2"; shift 2 ;;
      --history) [ "$what" = export ] || fail "only export takes --history."; HISTORY="?history=true"; shift ;;
      *) fail "$what takes only a file, --port N and, for export, --history, not $1." ;;
    esac
  done
  curl -fsS "http://127.0.0.1:$PORT/api/health/ready" >/dev/null 2>&1 ||
    fail "no server answers at port $PORT; start it first: ./sieve start --port $PORT"
}

export_archive() {
  of_server export "$@"
  curl -fsS -o "$FILE.part" "http://127.0.0.1:$PORT/api/workspace/archive$HISTORY" ||
    { rm -f "$FILE.part"; fail "the server could not write the archive; a rulebase that cannot be read must be repaired first."; }
  mv "$FILE.part" "$FILE"
  say "Everything is in $FILE."
}

import_archive() {
  of_server import "$@"
  [ -f "$FILE" ] || fail "there is no file \"$FILE\"."
  local answer status
  answer="$(curl -sS -w '\n%{http_code}' -H 'Content-Type: application/zip' --data-binary "@$FILE" "http://127.0.0.1:$PORT/api/workspace/archive")"
  status="${answer##*$'\n'}"
  [ "$status" = 200 ] || fail "not imported: $(printf '%s' "$answer" | sed -n 's/.*"detail":"\([^"]*\)".*/\1/p')"
  say "$FILE is imported."
}

# --- tests ----------------------------------------------------------------------------------------
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
  compiled core,files,traffic,standins,cli,benchmarks,replay -Dtests.jvm="-XX:+UseSerialGC -Xmx2g $LESS_COMPILED"
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
  if changed core files traffic standins cli benchmarks replay demo; then
    part core compiled core,files,traffic,standins,cli,benchmarks,replay -Dtest="$LONG" -Dtests.jvm="-XX:+UseSerialGC"
  fi
  if changed web server traffic standins demo; then
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

# The front end's types come from the API's description, and the server's build needs the front end: so the server is
# built once without it.
api_types() {
  need_tools
  front_end_packages
  build_modules core,files,traffic,standins,server -Dquarkus.quinoa=false
  cp "$ROOT/server/target/openapi/openapi.json" "$ROOT/docs/openapi.json"
  rm -f "$JAR"
  (cd "$ROOT/web" && npm run --silent api-types)
}

bench() {
  need_tools
  if [ "${1:-}" = replay ]; then
    bench_replay "${2:-3000000}"
    return
  fi
  if [ "${1:-}" = server ]; then
    bench_server "${2:-10000000}"
    return
  fi
  build_modules core,files,traffic,benchmarks
  benchmarks "$@"
}

benchmarks() { # ARGUMENT...
  java $SHORT_PAUSES -Xmx4g -cp "$ROOT/benchmarks/target/classes:$ROOT/benchmarks/target/lib/*" ironsieve.benchmarks.Main "$@"
}

bench_server() { # LINES
  build
  build_modules core,files,traffic,benchmarks
  folder="$(mktemp -d)"
  chmod 755 "$folder"
  use_test_database
  local database port
  as_owner -d postgres -c "drop database if exists ironsieve_test_bench with (force)"
  database="$(test_database bench)"
  port="$(free_port)"
  benchmarks month "$ROOT/demo" "$ROOT/demo/rulebases/main-gateway.rules" "$1" "$folder/month.csv"
  IRON_SIEVE_DB_URL="$database" IRON_SIEVE_DB_USER=ironsieve IRON_SIEVE_DB_PASSWORD="$(secret server)" \
    java $SHORT_PAUSES -Xmx2g -Dquarkus.http.port="$port" -Diron-sieve.generated=10000 -jar "$JAR" >"$STATE/bench-server.log" 2>&1 &
  SERVER=$!
  trap 'kill "$SERVER" 2>/dev/null; rm -rf "${folder:?}"; [ "$DB_OURS" = no ] || db_stop' EXIT
  until curl -fsS "http://127.0.0.1:$port/api/health/ready" >/dev/null 2>&1; do
    kill -0 "$SERVER" 2>/dev/null || fail "the server did not start; see $STATE/bench-server.log."
    sleep 0.3
  done
  benchmarks server "http://127.0.0.1:$port" generated-10000 "$folder/month.csv"
  say "heap of the server: $(jcmd "$SERVER" GC.heap_info | sed -n 's/.*total \([0-9]*K\), used \([0-9]*K\).*/\1, used \2/p' | head -1)"
  psql_as ironsieve "$(secret server)" -d ironsieve_test_bench -c "create table plain (start timestamp, source inet, login text,
    destination inet, protocol text, port int, application text, connections bigint, up bigint, down bigint)"
  say "a plain copy of the same rows into the same database:"
  time psql_as ironsieve "$(secret server)" -d ironsieve_test_bench -c "\\copy plain from '$folder/month.csv' csv header"
}

bench_replay() { # LINES
  build_replay
  build_modules core,files,traffic,benchmarks
  folder="$(mktemp -d)"
  trap 'rm -rf "${folder:?}"' EXIT
  benchmarks month "$ROOT/demo" "$ROOT/demo/rulebases/main-gateway.rules" "$1" "$folder/month.csv"
  java -Xmx1g "${OPENED[@]}" -cp "$(replay_classes)" ironsieve.replay.ReplayBenchmark "$folder/month.csv" "$ROOT/demo" "$ROOT/demo/rulebases/main-gateway.rules"
}

mkdir -p "$STATE"
case "${1:-}" in
  start) shift; start "$@" ;;
  export) shift; export_archive "$@" ;;
  import) shift; import_archive "$@" ;;
  check | probe | impact | fmt | convert | identify | signatures | tape | rulebases) without_server "$@" ;;
  test) shift; run_tests "$@" ;;
  bench) shift; bench "$@" ;;
  replay) shift; replay "$@" ;;
  fuzz) shift; fuzz "$@" ;;
  api-types) api_types ;;
  reset) db_stop; rm -rf "$(cluster_dir)" "$SECRETS"; say "The data is gone; the next start loads the demo company." ;;
  stop) db_stop; say "The database is stopped." ;;
  *) usage; [ -z "${1:-}" ] || exit 2 ;;
esac
