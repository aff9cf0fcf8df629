#!/usr/bin/env bash
# The demo's gateways and the stand-ins for what clients reach through them; all on loopback, beside the server.

# Each reads one of the demo's rulebases.
GATEWAY_NAMES=(quay terminal rose)
GATEWAY_BASES=(main-gateway northquay-terminal saltmere-rose)
# From the server's port on: the stand-ins' two ports, then room for the zones of each gateway.
SERVERS_AT=60
ZONES_AT=100
HELPERS=()

gateways_folder() { echo "$STATE/gateways/$PORT"; }

build_gateway() {
  [ -d "$GATEWAY/lib" ] && [ -z "$(find "$ROOT"/{core,files,traffic,gateway}/src/main "$ROOT"/{core,files,traffic,gateway}/pom.xml -newer "$GATEWAY/lib" -type f -print -quit)" ] && return 0
  say "Building …" >&2
  build_modules core,files,traffic,gateway >"$STATE/build-gateway.log" 2>&1 ||
    fail "the build failed; see $STATE/build-gateway.log."
  touch "$GATEWAY/lib"
}

gateway_java() { exec java -XX:TieredStopAtLevel=1 -XX:+UseSerialGC -Xmx192m -cp "$GATEWAY/classes:$GATEWAY/lib/*" "$@"; }

gateway() {
  need_tools
  build_gateway
  exec java -cp "$GATEWAY/classes:$GATEWAY/lib/*" ironsieve.gateway.Main "$@"
}

# A key that the server does not know any more is no use; neither is a name without its key.
enrolled() { # NAME ADDRESS : whether the gateway of this folder is the one that the server knows
  [ -e "$(gateways_folder)/$1/gateway.json" ] &&
    curl -fsS "$2/api/gateway-protocol/self" -o /dev/null \
      -H "Authorization: Bearer $(sed -n 's/.*"key":"\([^"]*\)".*/\1/p' "$(gateways_folder)/$1/gateway.json")" 2>/dev/null
}

start_gateways() { # COUNT ADDRESS : starts so many, and what stands in for the servers behind them
  local count="$1" address="$2" folder http=$((PORT + SERVERS_AT)) https=$((PORT + SERVERS_AT + 1)) started=0 i name code
  folder="$(gateways_folder)"
  mkdir -p "$folder"
  gateway_java ironsieve.gateway.standins.StandInServers --http "$http" --https "$https" --state "$folder" >"$folder/servers.log" 2>&1 &
  HELPERS+=($!)
  for ((i = 0; i < count; i++)); do
    name="${GATEWAY_NAMES[i]}"
    code=""
    if ! enrolled "$name" "$address"; then
      rm -rf "${folder:?}/$name"
      code="$(curl -sS -X PUT -H 'Content-Type: application/json' -d "{\"rulebase\":\"${GATEWAY_BASES[i]}\"}" "$address/api/gateways/$name" |
        sed -n 's/.*"code":"\([^"]*\)".*/\1/p')"
      [ -n "$code" ] || { say "The gateway $name is not started: the server gives it no code."; continue; }
    fi
    gateway_java ironsieve.gateway.Main --server "$address" --state "$folder/$name" ${code:+--code "$code"} \
      --ports $((PORT + ZONES_AT * (i + 1))) --servers "80=$http" --servers "443=$https" >"$folder/$name.log" 2>&1 &
    HELPERS+=($!)
    started=$((started + 1))
  done
  [ "$started" = 0 ] || say "$started gateways decide by what is released; how to try them stands at $address/releases"
}

stop_gateways() {
  [ ${#HELPERS[@]} = 0 ] || kill "${HELPERS[@]}" 2>/dev/null
}
