# ./kinetra run

default_home() { if [ "$(id -u)" = 0 ]; then echo /var/lib/kinetra; else echo "${XDG_DATA_HOME:-$HOME/.local/share}/kinetra"; fi; }

run() {
  local port=5870 home
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) port=${2:?kinetra run: --port wants a number}; shift 2 ;;
      *) fail "run: “$1” is not understood; it takes --port N" ;;
    esac
  done
  home=${KINETRA_HOME:-$(default_home)}
  need_tools
  need_packages postgresql libsndfile1 curl
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
  start_database "$home/database" kinetra 9>&-
  dotnet "$server_dll" serve --port "$port" --data "$home/data" 9>&- </dev/null &
  server_pid=$!
  printf 'http://127.0.0.1:%s' "$port" >"$home/address"
  wait_for_server "$port"
  say ''
  say "  Kinetra is ready: http://127.0.0.1:$port"
  say '  Ctrl-C ends it.'
  wait "$server_pid"
}

wait_for_server() {
  local answer
  until answer=$(curl -fsS "http://127.0.0.1:$1/api/status" 2>/dev/null) && [[ $answer == *'"waitingFor":null'* ]]; do
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
