# For tests that end or restart PostgreSQL itself.
#   bash tools/zenrik/database.sh stop|start          the cluster of the running tests
#   bash tools/zenrik/database.sh make|start|kill|remove NAME    one of a test's own; make and start print its connection
set -euo pipefail
source tools/zenrik/say.sh
source tools/zenrik/install.sh
source tools/zenrik/cluster.sh
source tools/zenrik/test.sh
need_postgres
if [ -z "${2:-}" ]; then
  TEST_CLUSTER=${ZENRIK_TEST_CLUSTER:?set by ./zenrik test browser}
  case "$1" in
    stop) stop_cluster "$TEST_CLUSTER" ;;
    start) start_test_cluster ;;
  esac
  exit
fi

own=$(cluster_home "$2")
case "$1" in
  make)
    make_cluster "$own"
    # Safe against a killed process, as real ones are; only a power cut could lose anything.
    start_cluster "$own" fsync=off
    connection_to "$own" postgres
    ;;
  start)
    start_cluster "$own" fsync=off
    connection_to "$own" postgres
    ;;
  # The whole server at once, as the kernel would: no process of it says goodbye.
  kill)
    pids=$(head -n 1 "$own/postmaster.pid")
    kill -KILL "$pids" $(pgrep -P "$pids") 2>/dev/null || true
    while kill -0 "$pids" 2>/dev/null; do sleep 0.05; done
    rm -f "$own/postmaster.pid"
    ;;
  remove)
    stop_cluster "$own"
    rm -rf "$own" "$own".*
    ;;
esac
