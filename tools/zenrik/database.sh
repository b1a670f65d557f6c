# For the browser tests: stops or starts the cluster of the running tests.   bash tools/zenrik/database.sh stop|start
set -euo pipefail
source tools/zenrik/say.sh
source tools/zenrik/install.sh
source tools/zenrik/cluster.sh
source tools/zenrik/test.sh
TEST_CLUSTER=${ZENRIK_TEST_CLUSTER:?set by ./zenrik test browser}
need_postgres
case "$1" in
  stop) stop_cluster "$TEST_CLUSTER" ;;
  start) start_test_cluster ;;
esac
