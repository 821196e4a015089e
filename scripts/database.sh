#!/usr/bin/env bash
# Private PostgreSQL cluster on loopback: database.sh start|stop|url. DATA_DIR says where; root runs it as "postgres".
set -euo pipefail
root_dir="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd -P)"
data_root="${DATA_DIR:-$root_dir/.data}"
bin="$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n1)"
[ -x "$bin/postgres" ] || { echo "database: no PostgreSQL server is installed" >&2; exit 1; }
if [ "$(id -u)" -eq 0 ]; then owner=postgres; as_owner() { runuser -u postgres -- "$@"; }; else owner="$(id -un)"; as_owner() { "$@"; }; fi
cd / # a working directory that the server's user may not enter makes initdb fail
umask 022
mkdir -p "$data_root"
data_root="$(cd "$data_root" && pwd -P)"
home="$data_root/pg"
# Root under a folder closed to others: the server's user cannot reach it, so the cluster lives elsewhere.
if [ "$owner" = postgres ] && ! as_owner test -x "$data_root"; then
  home="/var/tmp/umwelt-$(printf %s "$data_root" | sha256sum | cut -c1-16)"
fi
cluster="$home/data"
secret() { (umask 077; cat >"$1"); }
running() { as_owner "$bin/pg_ctl" -D "$cluster" status >/dev/null 2>&1; }
port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
initialise() {
  as_owner test -f "$cluster/PG_VERSION" && return 0
  mkdir -p "$home"
  [ "$owner" = postgres ] && chown postgres: "$home"
  chmod 700 "$home"
  head -c 24 /dev/urandom | base64 | tr -d '+/=\n' | secret "$data_root/pg-password"
  as_owner sh -c 'umask 077; cat >"$0"' "$home/pw" <"$data_root/pg-password"
  as_owner rm -rf "$cluster"
  as_owner "$bin/initdb" -D "$cluster" -U umwelt --pwfile="$home/pw" --auth=scram-sha-256 --encoding=UTF8 --locale=C.UTF-8 --data-checksums >/dev/null
  as_owner rm -f "$home/pw"
}
case "${1:-}" in
  start)
    exec 9>"$data_root/pg.lock"; flock 9
    initialise
    if ! running; then
      port=55432; tries=0
      while :; do
        while port_taken "$port"; do port=$((port + 1)); done
        # No socket folder (path length); 9>&- or the server would keep the lock.
        if as_owner "$bin/pg_ctl" -D "$cluster" -l "$home/server.log" -w -t 60 -s start -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='' -c timezone=UTC -c log_timezone=UTC -c default_toast_compression=lz4 -c shared_buffers=256MB -c max_wal_size=2GB -c checkpoint_timeout=15min" 9>&-; then break; fi
        tries=$((tries + 1)); port=$((port + 1))
        [ "$tries" -lt 5 ] || { as_owner tail -n 20 "$home/server.log" >&2; exit 1; }
      done
    fi
    port="$(as_owner sed -n 4p "$cluster/postmaster.pid")"
    printf 'postgres://umwelt:%s@127.0.0.1:%s/umwelt' "$(cat "$data_root/pg-password")" "$port" | secret "$data_root/database-url"
    export PGPASSWORD; PGPASSWORD="$(cat "$data_root/pg-password")"
    sql=("$bin/psql" -X -q -t -A -h 127.0.0.1 -p "$port" -U umwelt -d postgres)
    [ "$("${sql[@]}" -c "select 1 from pg_database where datname = 'umwelt'")" = 1 ] || "${sql[@]}" -c 'create database umwelt'
    ;;
  stop) if running; then as_owner "$bin/pg_ctl" -D "$cluster" -w -s -m fast stop; fi ;;
  url) cat "$data_root/database-url" ;;
  *) echo "usage: $0 start|stop|url" >&2; exit 2 ;;
esac
