#!/usr/bin/env bash
# Iron Sieve: start · export · import · test · check · probe · impact · fmt · convert · bench · reset · stop. Each command does all its own set-up.
set -euo pipefail

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)"
for part in common database build gateways tests bench; do
  # shellcheck source=/dev/null
  source "$ROOT/scripts/$part.sh"
done

usage() {
  cat <<TEXT
./sieve start [--port N] [--empty | --archive FILE] [--gateways N] [--generated N] [--recordings FOLDER] [--master URL]
                           builds if needed, starts everything, prints the address; Ctrl-C stops it;
                           where nothing is there yet it begins with the demo company, or with nothing, or
                           with an archive; of the demo's gateways N start beside it, all three
                           where nothing is said; --generated adds a rulebase of N rules
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
./sieve release …          release a rulebase to its gateways, after saying what that does; rollback, gateways
./sieve try GATEWAY ZONE ADDRESS   opens a real connection through a gateway, and says which rule caught it
./sieve gateway …          a stand-in gateway that fetches releases from a server and decides real connections
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

# --- commands -------------------------------------------------------------------------------------

stop_all() {
  # Nothing here may end the script early: what is left running would be in the way of the next start.
  set +e
  stop_gateways
  kill "$SERVER" 2>/dev/null
  wait "$SERVER" 2>/dev/null
  [ "$DB_OURS" = no ] || db_stop
  say "Stopped."
}

start() {
  local begin=demo gateways="" archive="" recordings="$ROOT/demo/replay" master=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) [[ "${2:-}" =~ ^[0-9]+$ ]] || fail "--port takes a number, such as --port 7341."; PORT="$2"; shift 2 ;;
      --generated) [[ "${2:-}" =~ ^[0-9]+$ ]] || fail "--generated takes a number of rules, such as --generated 1000."; GENERATED="$2"; shift 2 ;;
      --empty) begin=ask; shift ;;
      --gateways)
        [[ "${2:-}" =~ ^[0-3]$ ]] || fail "--gateways takes 0 to 3, the number of the demo's gateways to start."
        gateways="$2"
        shift 2
        ;;
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
      *) fail "start takes only --port N, --empty, --gateways N, --archive FILE, --generated N, --recordings FOLDER and --master URL, not $1." ;;
    esac
  done
  port_taken "$PORT" && fail "port $PORT is taken; stop what uses it or take another: ./sieve start --port $((PORT + 1))"
  need_space
  need_tools
  # Only the demo has gateways of its own; with other data they are started by hand.
  [ -n "$gateways" ] || { [ "$begin" = demo ] && [ -z "$archive" ] && [ "$GENERATED" = 0 ] && gateways=3; } || gateways=0
  build
  [ "$gateways" = 0 ] || build_gateway
  use_database
  local stand_ins=false
  [ "$begin" = demo ] && [ -z "$archive" ] && stand_ins=true
  java $SHORT_PAUSES -Dquarkus.http.port="$PORT" -Diron-sieve.generated="$GENERATED" -Diron-sieve.begin="$begin" -Diron-sieve.stand-ins="$stand_ins" -Diron-sieve.gateways="$gateways" \
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
  [ "$gateways" = 0 ] || start_gateways "$gateways" "$address"
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

mkdir -p "$STATE"
case "${1:-}" in
  start) shift; start "$@" ;;
  export) shift; export_archive "$@" ;;
  import) shift; import_archive "$@" ;;
  check | probe | impact | fmt | convert | identify | signatures | tape | rulebases | release | rollback | gateways | try) without_server "$@" ;;
  test) shift; run_tests "$@" ;;
  bench) shift; bench "$@" ;;
  replay) shift; replay "$@" ;;
  gateway) shift; gateway "$@" ;;
  fuzz) shift; fuzz "$@" ;;
  api-types) api_types ;;
  reset) db_stop; rm -rf "$(cluster_dir)" "$SECRETS" "$STATE/gateways"; say "The data is gone; the next start loads the demo company." ;;
  stop) db_stop; say "The database is stopped." ;;
  *) usage; [ -z "${1:-}" ] || exit 2 ;;
esac
