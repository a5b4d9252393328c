# ./kinetra run

default_home() { if [ "$(id -u)" = 0 ]; then echo /var/lib/kinetra; else echo "${XDG_DATA_HOME:-$HOME/.local/share}/kinetra"; fi; }

run() {
  local port=5870
  # Read at the end too, when nothing local is left.
  declare -g home
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) port=${2:?kinetra run: --port wants a number}; shift 2 ;;
      *) fail "run: “$1” is not understood; it takes --port N" ;;
    esac
  done
  home=${KINETRA_HOME:-$(default_home)}
  need_tools
  # Where another database is named, none is started here.
  if [ -n "${KINETRA_DATABASE:-}" ]; then need_packages libsndfile1 curl; else need_packages postgresql libsndfile1 curl; fi
  mkdir -p "$home/data"
  chmod 700 "$home/data"
  # The database's own user must be able to reach its folder below.
  chmod 711 "$home"

  exec 9>"$home/run.lock"
  if ! flock -n 9; then
    say "Kinetra runs already: $(cat "$home/address" 2>/dev/null || echo 'it is starting')"
    exit 0
  fi
  build_server
  build_web

  server_pid=''
  database_started_here=''
  trap 'stop_all' EXIT
  trap 'exit 130' INT
  trap 'exit 143' TERM
  if [ -z "${KINETRA_DATABASE:-}" ]; then
    start_database "$home/database" kinetra 9>&-
    # Who holds the lock has the database for itself: one that runs already was left behind by a crash, and ends with this run.
    database_started_here=1
  fi
  dotnet "$server_dll" serve --port "$port" --data "$home/data" --station 8010 9>&- </dev/null &
  server_pid=$!
  printf 'http://127.0.0.1:%s' "$port" >"$home/address"
  wait_for_server "$port"
  say ''
  say "  Kinetra is ready: http://127.0.0.1:$port"
  say '  Ctrl-C ends it.'
  wait "$server_pid"
}

wait_for_server() {
  local answer said=''
  until answer=$(curl -fsS "http://127.0.0.1:$1/api/status" 2>/dev/null) && [[ $answer == *'"waitingFor":null'* ]]; do
    # A database that is started here comes by itself; what stands in the way of another one, somebody has to hear.
    if [ -n "${KINETRA_DATABASE:-}" ] && [[ $answer =~ \"waitingFor\":\"(The\ database[^\"]*)\" ]] && [ "$said" != "${BASH_REMATCH[1]}" ]; then
      said=${BASH_REMATCH[1]}
      say "$said"
    fi
    kill -0 "$server_pid" 2>/dev/null || { wait "$server_pid" || true; fail "the server ended while it started"; }
    sleep 0.1
  done
}

stop_all() {
  trap - EXIT
  if [ -n "$server_pid" ] && kill -0 "$server_pid" 2>/dev/null; then
    kill -TERM "$server_pid" 2>/dev/null || true
    wait "$server_pid" 2>/dev/null || true
  fi
  rm -f "$home/address"
  [ -z "$database_started_here" ] || stop_database "$home/database"
}
