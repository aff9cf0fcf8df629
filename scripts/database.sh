#!/usr/bin/env bash
# A PostgreSQL cluster of our own on loopback: made, started, stopped; with a database for the product and others for tests.

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
