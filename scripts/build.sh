# Builds the server and the front end, each only where something of it is newer than its last build.

server_dll=src/Kinetra.Server/bin/Release/net10.0/Kinetra.Server.dll

# True where any file of the given places is newer than the stamp, or the stamp is not there.
newer_than() {
  local stamp=$1; shift
  [ ! -f "$stamp" ] || [ -n "$(find "$@" \( -name bin -o -name obj -o -name node_modules -o -name wwwroot -o -name generated \) -prune -o -type f -newer "$stamp" -print -quit)" ]
}

build_server() {
  if newer_than .kinetra/server.stamp src Directory.Build.props Directory.Packages.props || [ ! -f "$server_dll" ]; then
    say "Building the server …"
    mkdir -p .kinetra
    touch .kinetra/server.stamp.new
    dotnet build src/Kinetra.Server -c Release -v quiet --nologo -clp:NoSummary || fail "the server does not build"
    mv .kinetra/server.stamp.new .kinetra/server.stamp
  fi
}

install_node() { # FOLDER
  if newer_than ".kinetra/${1//\//-}.stamp" "$1/package-lock.json" || [ ! -d "$1/node_modules" ]; then
    say "Installing the packages of $1 …"
    mkdir -p .kinetra
    (cd "$1" && npm ci --no-audit --no-fund --loglevel=error) || fail "npm ci failed in $1"
    touch ".kinetra/${1//\//-}.stamp"
  fi
}

# After build_server: the client's types come from the OpenAPI document that its build writes.
build_web() {
  install_node web
  if newer_than .kinetra/web-build.stamp web docs/openapi.json || [ ! -f src/Kinetra.Server/wwwroot/index.html ]; then
    say "Building the front end …"
    touch .kinetra/web-build.stamp.new
    (cd web && npm run --silent api >/dev/null && npm run --silent live-types && npm run --silent build) || fail "the front end does not build"
    mv .kinetra/web-build.stamp.new .kinetra/web-build.stamp
  fi
}
