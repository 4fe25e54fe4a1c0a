#!/usr/bin/env bash
# Starts (or finds running) the project's own PostgreSQL on loopback: `. scripts/postgres.sh DATABASE`.
# Data and socket lie in .data/ (for other users than root in a folder of their own beside it); as root the system user
# "postgres" runs it, since PostgreSQL refuses to run as root. A taken port moves on to the next free one.
# Sets KELVAR_DATABASE_URL.
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
data="$root/.data/postgres"
pg_port="${KELVAR_PG_PORT:-54329}"
database="${1:-kelvar}"

as_postgres() {
  if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi
}

pg_bin=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
if [ -z "$pg_bin" ]; then
  echo "PostgreSQL is not installed: run ./start, or apt-get install postgresql" >&2
  exit 1
fi

[ "$(id -u)" = 0 ] || data="$root/.data-$(id -un)/postgres"
mkdir -p "$data"
if [ "$(id -u)" = 0 ]; then
  chown -R postgres "$root/.data"
  # the system user must be able to reach the folder; where a parent forbids it, the data goes elsewhere
  if ! runuser -u postgres -- test -x "$root/.data"; then
    data="/var/lib/postgresql/kelvar-$(printf %s "$root" | cksum | cut -d ' ' -f 1)"
    mkdir -p "$data" && chown -R postgres "$data"
  fi
fi
chmod 700 "$data"

if [ ! -f "$data/PG_VERSION" ]; then
  (cd / && as_postgres "$pg_bin/initdb" -D "$data" -U kelvar --auth=trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null)
fi
if ! (cd / && as_postgres "$pg_bin/pg_ctl" -D "$data" status >/dev/null 2>&1); then
  while (exec 3<>"/dev/tcp/127.0.0.1/$pg_port") 2>/dev/null; do pg_port=$((pg_port + 1)); done
  (cd / && as_postgres "$pg_bin/pg_ctl" -D "$data" -w -t 60 -l "$data/server.log" \
    -o "-p $pg_port -c listen_addresses=127.0.0.1 -c unix_socket_directories='$data' -c fsync=on" start >/dev/null) || {
    echo "PostgreSQL did not start; its log: $data/server.log" >&2
    exit 1
  }
fi
pg_port=$(sed -n 4p "$data/postmaster.pid")
if [ -z "$("$pg_bin/psql" -h 127.0.0.1 -p "$pg_port" -U kelvar -d postgres -tAc "select 1 from pg_database where datname = '$database'")" ]; then
  "$pg_bin/createdb" -h 127.0.0.1 -p "$pg_port" -U kelvar "$database"
fi
export KELVAR_DATABASE_URL="postgresql://kelvar@127.0.0.1:$pg_port/$database"
