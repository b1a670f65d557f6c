# Three PostgreSQL under Patroni with etcd, replication synchronous. The primary is killed while people work: another is
# promoted, nothing that was answered is lost, and work goes on by itself.
day_database_killed() {
  local missing=() program
  for program in patroni:patroni etcd:etcd-server; do
    command -v "${program%%:*}" >/dev/null || [ -x "/usr/bin/${program%%:*}" ] || missing+=("${program##*:}")
  done
  [ ${#missing[@]} -eq 0 ] || install_packages "the cluster of this day" "${missing[@]}"
  local etcd peer nodes=() hosts=() n
  etcd=$(free_port)
  peer=$(free_port)
  /usr/bin/etcd --data-dir "$WORLD.etcd" --listen-client-urls "http://127.0.0.1:$etcd" --advertise-client-urls "http://127.0.0.1:$etcd" \
    --listen-peer-urls "http://127.0.0.1:$peer" --initial-advertise-peer-urls "http://127.0.0.1:$peer" \
    --initial-cluster "default=http://127.0.0.1:$peer" >"$WORLD.etcd.log" 2>&1 &
  pids+=($!)
  mkdir -p "$WORLD.cluster"
  if is_root; then chown postgres "$WORLD.cluster"; fi
  CLUSTER_PASSWORD=$(head -c 18 /dev/urandom | base64 | tr -d '+/=')
  for n in 1 2 3; do
    nodes[n]=$(free_port)
    hosts+=("127.0.0.1:${nodes[n]}")
    cat >"$WORLD.cluster/$n.yml" <<YML
scope: zenrik
name: n$n
restapi: { listen: "127.0.0.1:$(free_port)" }
etcd3: { host: "127.0.0.1:$etcd" }
bootstrap:
  dcs:
    ttl: 10
    loop_wait: 2
    retry_timeout: 3
    maximum_lag_on_failover: 1048576
    synchronous_mode: true
    postgresql: { parameters: { max_connections: 200 } }
  initdb: [encoding: UTF8, locale: C.UTF-8, auth-host: scram-sha-256]
  pg_hba: ["host all all 127.0.0.1/32 scram-sha-256", "host replication all 127.0.0.1/32 scram-sha-256"]
postgresql:
  listen: 127.0.0.1:${nodes[n]}
  connect_address: 127.0.0.1:${nodes[n]}
  data_dir: $WORLD.cluster/n$n
  bin_dir: $PG_BIN
  authentication:
    superuser: { username: zenrik, password: "$CLUSTER_PASSWORD" }
    replication: { username: follows, password: "$CLUSTER_PASSWORD" }
  parameters: { unix_socket_directories: "", random_page_cost: 1.1 }
YML
    if is_root; then chown postgres "$WORLD.cluster/$n.yml"; fi
    as_postgres /usr/bin/patroni "$WORLD.cluster/$n.yml" >"$WORLD.patroni-$n.log" 2>&1 &
    pids+=($!)
    [ "$n" -gt 1 ] || primary_within 60
  done
  followers_within 90 2 || { tail -n 5 "$WORLD".patroni-*.log; return 1; }

  local all
  all="Host=$(IFS=,; echo "${hosts[*]}");Username=zenrik;Password=$CLUSTER_PASSWORD;Database=zenrik;Target Session Attributes=primary;Timeout=3"
  psql_primary postgres -qc "CREATE DATABASE zenrik"
  psql_primary postgres -qc "CREATE ROLE zenrik_web LOGIN PASSWORD '$CLUSTER_PASSWORD'"
  ASK_AT=cluster
  prepare_book "$all" "${all/Username=zenrik;/Username=zenrik_web;}"
  serve_one
  serve_one
  work 60
  local old
  old=$(primary)
  say "  killed: the primary, node $old"
  pkill -KILL -f "patroni $WORLD.cluster/$old.yml" || true
  pkill -KILL -f "$WORLD.cluster/n$old" || true
  worked
  say "  promoted: node $(primary)"
  [ "$(primary)" != "$old" ] && nothing_lost && stock_is_whole
}

# node_port N: where a node listens.
node_port() { sed -n 's/.*listen: 127.0.0.1:\([0-9]*\)$/\1/p' "$WORLD.cluster/$1.yml"; }

# primary: the number of the node that takes writes.
primary() {
  local n
  for n in 1 2 3; do
    [ -f "$WORLD.cluster/$n.yml" ] || continue
    [ "$(PGCONNECT_TIMEOUT=2 PGPASSWORD=$CLUSTER_PASSWORD psql "host=127.0.0.1 port=$(node_port "$n") user=zenrik dbname=postgres" \
      -qtAXc "SELECT NOT pg_is_in_recovery()" 2>/dev/null)" = t ] && { echo "$n"; return; }
  done
  return 1
}

primary_within() {
  for _ in $(seq "$1"); do primary >/dev/null && return; sleep 1; done
  return 1
}

# followers_within SECONDS N: N nodes follow, one of them in step.
followers_within() {
  for _ in $(seq "$1"); do
    [ "$(psql_primary postgres -qtAXc "SELECT (count(*) >= $2 AND bool_or(sync_state = 'sync')) FROM pg_stat_replication" 2>/dev/null)" = t ] && return
    sleep 1
  done
  return 1
}

psql_primary() { # DATABASE psql-arguments…
  local database=$1
  shift
  PGPASSWORD=$CLUSTER_PASSWORD psql "host=127.0.0.1 port=$(node_port "$(primary)") user=zenrik dbname=$database" "$@"
}
