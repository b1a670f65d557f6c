# Called by ./zenrik from the project's root.
set -euo pipefail
source tools/zenrik/say.sh
source tools/zenrik/install.sh
source tools/zenrik/cluster.sh

usage() {
  cat <<'TEXT'
./zenrik start [--port N] [--empty] [--connection "…"]   install what is missing, build, serve
               [--fleet N]                               generate N units more into an empty database
./zenrik stop                                            stop the program and its database
./zenrik backup FILE [--connection "…"]                  one file of the whole book, tried by restoring it beside
./zenrik restore FILE [--connection "…"]                 the book as it was then; what is there now is kept beside
./zenrik publish [--output DIR]                          one folder and a Debian package of it, to be installed elsewhere
./zenrik test [core|workshop|hard|browser]               run the tests, all or one suite
./zenrik bench                                           measure, print ratios
./zenrik --version                                       say which version this is
TEXT
}

command=${1:-}
shift || true
case "$command" in
  start) source tools/zenrik/start.sh; start "$@" ;;
  stop) source tools/zenrik/start.sh; stop ;;
  backup | restore) source tools/zenrik/backup.sh; "$command" "$@" ;;
  publish) source tools/zenrik/publish.sh; publish "$@" ;;
  test) source tools/zenrik/test.sh; run_tests "$@" ;;
  bench) source tools/zenrik/bench.sh; run_bench "$@" ;;
  --version) say "Zenrik $(sed -n 's:.*<Version>\(.*\)</Version>.*:\1:p' Directory.Build.props)" ;;
  "" | help | -h | --help) usage ;;
  *) usage >&2; fail "There is no \"$command\"." "Use one of the commands above." ;;
esac
