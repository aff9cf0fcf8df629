#!/usr/bin/env bash
# Where things are, how things are said, and what must be installed. ROOT is set by whoever reads this.

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
