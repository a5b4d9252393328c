# ./kinetra endure [ROUNDS [FLAGS OF THE RUNNER …]]: crashes the server, and PostgreSQL, in the midst of edits, so often, and looks whether all is there.

endure() {
  local rounds=${1:-100}
  [[ $rounds =~ ^[1-9][0-9]{0,3}$ ]] || fail "endure: “$rounds” is not a number of rounds; allowed: 1 to 9999"
  shift || true
  need_tools
  need_packages postgresql libsndfile1 curl ffmpeg
  mkdir -p .kinetra
  prepare_test_home
  install_node tests/e2e
  build_server
  (cd tests/e2e && KINETRA_ROUNDS=$rounds KINETRA_PG_BIN=$(pg_bin) KINETRA_TEST_HOME=$test_home \
    npx playwright test --project=still --workers=1 --reporter=list endure.spec.ts "$@")
}
