#!/usr/bin/env bash
# What ./sieve makes of a database cluster: a new one, one from before there were passwords, one whose passwords are gone.
set -euo pipefail
cd "$(dirname "$0")/.."
scratch="$(mktemp -d)"
chmod 755 "$scratch"
mkdir "$scratch/.sieve"
ROOT="$scratch"
for part in common database; do
  # shellcheck source=/dev/null
  source "scripts/$part.sh"
done
trap 'db_stop; rm -rf "$scratch"' EXIT
ok() { printf '  %s\n' "$1"; }
wrong() { printf 'cluster: %s\n' "$1" >&2; exit 1; }
as_server() { PGPASSWORD="$IRON_SIEVE_DB_PASSWORD" "$PG_BIN/psql" -w -qtA -h 127.0.0.1 -p "$DB_PORT" -U ironsieve -d ironsieve "$@"; }
begin() { unset IRON_SIEVE_DB_URL IRON_SIEVE_DB_USER IRON_SIEVE_DB_PASSWORD; use_database >/dev/null; trap 'db_stop; rm -rf "$scratch"' EXIT; }

mkdir -p "$STATE/db-$(id -u)"
[ "$(id -u)" != 0 ] || chown postgres:postgres "$STATE/db-$(id -u)"
DB="$(cluster_dir)"
as_db_user "$PG_BIN/initdb" -D "$DB/data" -U ironsieve -A trust -E UTF8 --locale=C.UTF-8 >/dev/null
db_run
"$PG_BIN/psql" -q -h 127.0.0.1 -p "$DB_PORT" -U ironsieve -d postgres -c 'create database ironsieve'
"$PG_BIN/psql" -q -h 127.0.0.1 -p "$DB_PORT" -U ironsieve -d ironsieve \
  -c 'create table kept (id serial primary key, x text); insert into kept (x) values (1)'
db_stop

begin
[ "$(as_server -c 'insert into kept (x) values (2); alter table kept add y text; select count(*) from kept')" = 2 ] ||
  wrong "the data of a cluster from before there were passwords is not there any more, or not the server's own"
ok "a cluster without passwords is moved over with what is in it"
[ "$(as_server -c 'select rolsuper or rolcreaterole or rolcreatedb from pg_roles where rolname = current_user')" = f ] ||
  wrong "the server's role may do more than own its database"
as_server -c "copy kept from program 'id'" >/dev/null 2>&1 && wrong "SQL leads to a shell"
as_server -c "copy kept to '$scratch/stolen'" >/dev/null 2>&1 && wrong "SQL leads to a file"
ok "the server's role is no superuser and gets to no shell and no file"
IRON_SIEVE_DB_PASSWORD=guessed as_server -c 'select 1' >/dev/null 2>&1 && wrong "a wrong password is good enough"
IRON_SIEVE_DB_PASSWORD='' as_server -c 'select 1' >/dev/null 2>&1 && wrong "no password is needed"
for role in sieve_owner sieve_mover postgres; do
  "$PG_BIN/psql" -w -q -h 127.0.0.1 -p "$DB_PORT" -U "$role" -d postgres -c 'select 1' >/dev/null 2>&1 && wrong "$role gets in without a password"
done
ok "nobody gets in without the password"
[ "$(stat -c %a "$SECRETS")" = 600 ] || wrong "others can read the passwords"
db_stop

rm "$SECRETS"
begin
[ "$(as_server -c 'select count(*) from kept')" = 2 ] || wrong "lost passwords lose the data"
ok "passwords that are gone are set anew"
db_stop

rm -rf "$(cluster_dir)" "$SECRETS"
begin
[ "$(as_server -c 'create table a (); select 1')" = 1 ] || wrong "a new cluster does not work"
ok "a new cluster has passwords from the start"
