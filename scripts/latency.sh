# ./kinetra latency: how long things take on this machine, in a real browser. Prints; judges nothing.

latency() { # [FLAGS OF THE RUNNER …]
  need_tools
  need_packages postgresql libsndfile1 curl chromium chromium-headless-shell ffmpeg
  mkdir -p .kinetra
  prepare_test_home
  install_node tests/e2e
  build_server
  build_web
  (cd tests/e2e && KINETRA_PG_BIN=$(pg_bin) KINETRA_TEST_HOME=$test_home npx playwright test -c latency.config.ts --reporter=line "$@")
}
