# ./kinetra soak [MINUTES [FLAGS OF THE RUNNER …]]: the live loop in real time on the reference rig, with edits at random.

soak() {
  local minutes=${1:-60}
  [[ $minutes =~ ^[0-9]+(\.[0-9]+)?$ ]] || fail "soak: “$minutes” is not a number of minutes"
  shift || true
  need_tools
  need_packages postgresql libsndfile1 curl
  mkdir -p .kinetra
  prepare_test_home
  install_node tests/e2e
  build_server
  (cd tests/e2e && KINETRA_MINUTES=$minutes KINETRA_PG_BIN=$(pg_bin) KINETRA_TEST_HOME=$test_home \
    npx playwright test --project=still --workers=1 --reporter=list soak.spec.ts "$@")
}
