source tools/zenrik/start.sh

# run_bench [quick] [triage] [learning] [outlook] [schedule] [practice] [fleet] [lists]: all measures, on less data, or only those named.
run_bench() {
  need_dotnet
  quietly "Building the benchmarks" dotnet build bench/Zenrik.Benchmarks -c Release -v quiet
  build_programs
  need_postgres
  BENCH_CLUSTER=$(cluster_home "bench-$$")
  trap 'stop_cluster "$BENCH_CLUSTER"; rm -rf "$BENCH_CLUSTER"*' EXIT
  trap 'exit 130' INT
  trap 'exit 143' TERM
  make_cluster "$BENCH_CLUSTER"
  start_cluster "$BENCH_CLUSTER"
  ZENRIK_TEST_CONNECTION=$(connection_to "$BENCH_CLUSTER" postgres) \
    dotnet bench/Zenrik.Benchmarks/bin/Release/net10.0/Zenrik.Benchmarks.dll "$@"
}
