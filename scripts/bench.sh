# ./kinetra bench [PART …] [--json]: what the computation costs. ./kinetra curves: the measured curves and tables of docs/signal.md.

build_bench() {
  need_tools >&2
  need_packages libsndfile1 curl ffmpeg >&2
  dotnet build bench/Kinetra.Bench -c Release -v quiet --nologo -clp:NoSummary || fail "the benchmark does not build"
}

run_bench() {
  dotnet bench/Kinetra.Bench/bin/Release/net10.0/Kinetra.Bench.dll "$@"
}

bench() { # [PART …] [--json]
  build_bench
  run_bench speed "$@"
}

draw_curves() {
  build_bench
  run_bench figures docs
  build_server
  dotnet "$server_dll" actions-markdown docs/control.md || fail 'docs/control.md has no place for the table of actions'
}
