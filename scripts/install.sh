# What is needed from outside, and how it gets here.

say() { printf '%s\n' "$*"; }
fail() { printf 'kinetra: %s\n' "$*" >&2; exit 1; }

# Installs those of the given Debian packages that are missing, and says so first.
need_packages() {
  local missing=() package
  for package in "$@"; do
    [ "$(dpkg-query -W -f '${db:Status-Status}' "$package" 2>/dev/null)" = installed ] || missing+=("$package")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  local as_root=()
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null || fail "these Debian packages are missing, and neither root nor sudo is at hand: ${missing[*]}"
    as_root=(sudo)
  fi
  say "Installing from Debian's packages: ${missing[*]}"
  "${as_root[@]}" apt-get update -qq
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

need_tools() {
  command -v dotnet >/dev/null || fail "the .NET 10 SDK is missing: https://dot.net"
  case "$(dotnet --version)" in 10.*) ;; *) fail "the .NET SDK is $(dotnet --version); 10 is needed" ;; esac
  command -v node >/dev/null || fail "Node.js is missing; 20 or newer is needed"
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || fail "Node.js is $(node --version); 20 or newer is needed"
}

# A port of the loopback address that nobody listens on.
free_port() {
  node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{process.stdout.write(String(s.address().port));s.close()})'
}
