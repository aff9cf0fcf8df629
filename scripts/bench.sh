#!/usr/bin/env bash
# Measurements, each beside a twin.

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
