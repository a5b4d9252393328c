# ./kinetra measure FILE…, ./kinetra render SHOW.json …: what the engine does without a server. Paths are the caller's.

command_line() { # measure|render ARGUMENTS …
  # What is installed and built is no part of the answer.
  need_tools >&2
  need_packages libsndfile1 curl >&2
  build_server >&2
  (cd "$caller" && exec dotnet "$root/$server_dll" "$@")
}
