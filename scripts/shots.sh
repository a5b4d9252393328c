# ./kinetra shots: the pictures in docs/screenshots, from the demo show on a stepped clock, so that they come out the same.

take_shots() {
  [ $# -eq 0 ] || fail "shots takes nothing more"
  need_tools
  need_packages postgresql libsndfile1 curl chromium chromium-headless-shell
  mkdir -p .kinetra
  prepare_test_home
  install_node tests/e2e
  build_server
  build_web
  (cd tests/e2e && KINETRA_PG_BIN=$(pg_bin) KINETRA_TEST_HOME=$test_home npx playwright test -c shots.config.ts --reporter=list)
}
