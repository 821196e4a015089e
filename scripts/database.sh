#!/usr/bin/env bash
# Private PostgreSQL cluster on loopback; DATA_DIR says where (default .data).
#   database.sh start        starts it in the background and waits until it answers
#   database.sh run          becomes the server itself, for who supervises it; PGPORT asks for a port
#   database.sh ready        waits until the server started by `run` answers, and makes the application's database
#   database.sh url          prints the address of the application's database
#   database.sh fresh NAME [TEMPLATE]   makes a database of this name anew, empty or like another, and prints its address
#   database.sh stop
# A cluster that exists is never made again. Root runs it as whoever owns it, a new one as "postgres".
set -euo pipefail
root_dir="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd -P)"
data_root="${DATA_DIR:-$root_dir/.data}"
me="$(id -un)"
die() { printf 'database: %s\n' "$@" >&2; exit 1; }
bin="$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n1)"
[ -x "$bin/postgres" ] || die "no PostgreSQL server is installed; ./start installs Debian's"
cd / # a working directory that the server's user may not enter makes initdb fail
umask 022
mkdir -p "$data_root" 2>/dev/null || die "$data_root cannot be made by $me; give $me its folder, or set DATA_DIR to another"
data_root="$(cd "$data_root" && pwd -P)"

# Where the cluster is. Under a folder closed to others the server's user cannot reach it, so root's lives elsewhere then, at a
# place that only this folder knows: when the folder is gone, what comes in its stead begins anew and touches nothing.
password="$data_root/pg-password"
place="$data_root/pg-place"
before="/var/tmp/umwelt-$(printf %s "$data_root" | sha256sum | cut -c1-16)"
may_enter() { runuser -u "$1" -- test -x "$2"; }
if [ -e "$data_root/pg" ]; then home="$data_root/pg"
elif [ -f "$place" ]; then home="$(cat "$place")"
elif [ -e "$before" ] && [ -e "$password" ]; then home="$before"
elif [ "$me" = root ] && ! may_enter postgres "$data_root"; then
  # Kept at once and by one alone: `ready` looks for what `run` begins beside it.
  echo "/var/tmp/umwelt-$(head -c 12 /dev/urandom | base64 | tr -d '+/=\n')" >"$place.$$"
  ln "$place.$$" "$place" 2>/dev/null || true
  rm -f "$place.$$"
  home="$(cat "$place")"
else home="$data_root/pg"; fi
cluster="$home/data"

# Whose it is: of whoever made it, for a server runs as nobody else.
if [ -e "$home" ]; then owner="$(stat -c %U "$home")"
elif [ "$me" = root ]; then owner=postgres
else owner="$me"; fi
if [ "$owner" = root ]; then owner=postgres; fi
if [ "$me" = "$owner" ]; then as_owner() { "$@"; }
elif [ "$me" = root ]; then as_owner() { runuser -u "$owner" -- "$@"; }
else die "the database in $home belongs to $owner, who started the application before, and $me may not run it." \
  "Start as $owner (or as root) again, or set DATA_DIR to a folder of your own for a new database."; fi

secret() { (umask 077; cat >"$1"); }
port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
running() { as_owner "$bin/pg_ctl" -D "$cluster" status >/dev/null 2>&1; }

check_cluster() { # An existing cluster is taken as it is, or refused with what to do; never overwritten.
  as_owner test -r "$cluster/PG_VERSION" || die "$cluster is there but cannot be read as a PostgreSQL cluster by $owner." \
    "Nothing was changed. Give it back to $owner (chown -R $owner $home), restore it from a backup, or move it away to begin anew."
  [ "$(as_owner cat "$cluster/PG_VERSION")" = "$("$bin/postgres" --version | grep -oE '[0-9]+' | head -n1)" ] ||
    die "$cluster is of PostgreSQL $(as_owner cat "$cluster/PG_VERSION"), and installed is $("$bin/postgres" --version)." \
      "Install that version beside it, or bring the data over with pg_upgrade."
  [ -r "$password" ] || die "the password of the database, $password, is missing or may not be read by $me." \
    "Nothing was changed. Restore it, or start as $(stat -c %U "$password" 2>/dev/null || echo "who made it")."
}
initialise() {
  if [ -e "$cluster" ]; then check_cluster; return; fi
  [ ! -e "$password" ] || [ ! -e "$home" ] || [ -w "$password" ] || die "$password may not be written by $me"
  mkdir -p "$home"
  [ "$me" = "$owner" ] || chown "$owner:" "$home"
  chmod 700 "$home"
  head -c 24 /dev/urandom | base64 | tr -d '+/=\n' | secret "$password"
  as_owner sh -c 'umask 077; cat >"$0"' "$home/pw" <"$password"
  # Under another name until it is whole: one that was interrupted is no cluster.
  as_owner rm -rf "$cluster.new"
  as_owner "$bin/initdb" -D "$cluster.new" -U umwelt --pwfile="$home/pw" --auth=scram-sha-256 --encoding=UTF8 --locale=C.UTF-8 --data-checksums >"$data_root/initdb.log" 2>&1 ||
    die "the database could not be made: $(tail -n 3 "$data_root/initdb.log")"
  as_owner rm -f "$home/pw"
  as_owner mv "$cluster.new" "$cluster"
}
# No socket folder: path lengths are limited.
settings=(-c listen_addresses=127.0.0.1 -c unix_socket_directories= -c timezone=UTC -c log_timezone=UTC -c default_toast_compression=lz4
  -c shared_buffers=256MB -c max_wal_size=2GB -c checkpoint_timeout=15min)
# More of them, name=value separated by blanks, for what need not outlast the machine.
for option in ${DATABASE_OPTIONS:-}; do settings+=(-c "$option"); done
free_port() {
  local port="${PGPORT:-55432}"
  # A port that was asked for is in use by those who know the address: it is waited for, not changed.
  if [ -z "${PGPORT:-}" ]; then
    # The one it had, where that is free: who knows the address need not learn another.
    local before; before="$(sed -n 's#.*:\([0-9]*\)/.*#\1#p' "$data_root/database-url" 2>/dev/null || true)"
    [ -z "$before" ] || port="$before"
    while port_taken "$port"; do port=$((port + 1)); done
  fi
  echo "$port"
}
write_url() {
  local port; port="$(as_owner sed -n 4p "$cluster/postmaster.pid")"
  printf 'postgres://umwelt:%s@127.0.0.1:%s/umwelt' "$(cat "$password")" "$port" | secret "$data_root/database-url"
}
sql() { # DATABASE STATEMENT
  local port; port="$(as_owner sed -n 4p "$cluster/postmaster.pid")"
  PGOPTIONS='-c client_min_messages=warning' PGPASSWORD="$(cat "$password")" "$bin/psql" -X -q -t -A -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$port" -U umwelt -d "$1" -c "$2"
}
make_database() {
  write_url
  [ "$(sql postgres "select 1 from pg_database where datname = 'umwelt'")" = 1 ] || sql postgres 'create database umwelt'
}

case "${1:-}" in
  start)
    exec 9>"$data_root/pg.lock"; flock 9
    initialise
    if ! running; then
      tries=0; port="$(free_port)"
      # 9>&- or the server would keep the lock.
      until as_owner "$bin/pg_ctl" -D "$cluster" -l "$home/server.log" -w -t 60 -s start -o "-c port=$port $(printf "%s " "${settings[@]/%=/=\'\'}")" 9>&-; do
        tries=$((tries + 1))
        [ "$tries" -lt 5 ] || { as_owner tail -n 20 "$home/server.log" >&2; exit 1; }
        port=$((port + 1)); while port_taken "$port"; do port=$((port + 1)); done
      done
    fi
    make_database
    ;;
  run)
    initialise
    # A server that is still shutting down is waited for.
    for _ in $(seq 300); do running || break; sleep 0.1; done
    if running; then die "a server runs on $cluster already"; fi
    server=("$bin/postgres" -D "$cluster" -c "port=$(free_port)" "${settings[@]}")
    # The server goes when its supervisor goes, however that ends.
    if [ "$me" = "$owner" ]; then exec setpriv --pdeathsig INT -- "${server[@]}"; fi
    exec setpriv --reuid "$owner" --regid "$(id -g "$owner")" --init-groups --pdeathsig INT -- "${server[@]}"
    ;;
  ready)
    for _ in $(seq 600); do
      if running && sql postgres 'select 1' >/dev/null 2>&1; then make_database; exit 0; fi
      sleep 0.1
    done
    die "the server does not answer within a minute; the lines above say why"
    ;;
  fresh)
    [[ "${2:-}" =~ ^[a-z0-9_]+$ && "${3:-template1}" =~ ^[a-z0-9_]+$ ]] || die "fresh wants names of small letters, digits and _"
    sql postgres "drop database if exists $2 with (force)"
    sql postgres "create database $2 template ${3:-template1} strategy file_copy"
    sed "s|/[^/]*\$|/$2|" "$data_root/database-url"
    ;;
  stop) if running; then as_owner "$bin/pg_ctl" -D "$cluster" -w -s -m fast stop; fi ;;
  url) cat "$data_root/database-url" ;;
  *) echo "usage: $0 start|run|ready|stop|url|fresh NAME [TEMPLATE]" >&2; exit 2 ;;
esac
