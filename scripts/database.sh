# A private PostgreSQL: its own folder, port and password, on loopback only. Sets KINETRA_DB for the server.
#   start_database FOLDER NAME   makes the cluster where there is none, starts it, makes the database NAME
#   restart_database FOLDER      starts it again after a crash
#   stop_database FOLDER         stops it

# PostgreSQL refuses to run as root: as root, everything of its is done by the user that Debian's package made for it.
as_postgres() {
  if [ "$(id -u)" = 0 ]; then
    setpriv --reuid=postgres --regid=postgres --init-groups --inh-caps=-all env HOME=/tmp "$@"
  else
    "$@"
  fi
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1; }

start_database() {
  local folder=$1 name=$2 bin port password
  bin=$(pg_bin)
  if [ ! -f "$folder/cluster/PG_VERSION" ]; then
    mkdir -p "$folder"
    if [ "$(id -u)" = 0 ]; then chown postgres: "$folder"; fi
    chmod 700 "$folder"
    password=$(node -p 'require("crypto").randomBytes(24).toString("hex")')
    # A half-made cluster, left by a start that was broken off, is made anew.
    as_postgres rm -rf "$folder/cluster"
    (umask 077; printf '%s' "$password" | as_postgres tee "$folder/password" >/dev/null)
    as_postgres chmod 600 "$folder/password"
    (cd /; as_postgres "$bin/initdb" -D "$folder/cluster" -U kinetra --pwfile="$folder/password" -A scram-sha-256 -E UTF8 --locale=C.UTF-8 >/dev/null) \
      || fail "PostgreSQL's initdb failed in $folder"
  fi
  password=$(as_postgres cat "$folder/password")
  if ! (cd /; as_postgres "$bin/pg_ctl" -D "$folder/cluster" status >/dev/null 2>&1); then
    port=$(free_port)
    printf '%s' "$port" | as_postgres tee "$folder/port" >/dev/null
    (cd /; as_postgres "$bin/pg_ctl" -D "$folder/cluster" -l "$folder/log" -w -t 60 \
      -o "-c listen_addresses=127.0.0.1 -c unix_socket_directories= -p $port ${KINETRA_PG_OPTIONS:-}" start >/dev/null) \
      || fail "PostgreSQL does not start; see $folder/log"
    database_started_here=1
  fi
  port=$(as_postgres cat "$folder/port")
  export KINETRA_DB="Host=127.0.0.1;Port=$port;Username=kinetra;Password=$password;Database=$name;Timeout=5;Command Timeout=15"
  PGPASSWORD=$password "$bin/psql" -h 127.0.0.1 -p "$port" -U kinetra -d postgres -tAc "select 1 from pg_database where datname = '$name'" | grep -q 1 \
    || PGPASSWORD=$password "$bin/createdb" -h 127.0.0.1 -p "$port" -U kinetra "$name"
}

# Starts a cluster again that has crashed, on the port that it had.
restart_database() { # FOLDER
  local folder=$1
  (cd /; as_postgres "$(pg_bin)/pg_ctl" -D "$folder/cluster" -l "$folder/log" -w -t 60 \
    -o "-c listen_addresses=127.0.0.1 -c unix_socket_directories= -p $(as_postgres cat "$folder/port")" start >/dev/null)
}

stop_database() {
  (cd /; as_postgres "$(pg_bin)/pg_ctl" -D "$1/cluster" -m fast -w stop >/dev/null 2>&1) || true
}
