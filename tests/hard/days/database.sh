# PostgreSQL is killed without a word and stays away for 20 seconds; programs say so, go on living, and serve when it is back.
day_database_away() {
  own_database || return 1
  serve_one
  serve_one
  work 40
  as_postgres "$PG_BIN/pg_ctl" stop -m immediate -D "$WORLD" >/dev/null
  sleep 20
  start_cluster "$WORLD" max_connections=200
  worked
  kill -0 "${pids[0]}" && kill -0 "${pids[1]}" && nothing_lost && stock_is_whole
}

# Somebody else takes every connection there is for ten seconds.
day_no_connections() {
  own_database max_connections=30 || return 1
  serve_one
  serve_one
  work 30
  local connection password
  password=$(cat "$WORLD.password")
  connection="host=127.0.0.1 port=$(cat "$WORLD.port") user=zenrik dbname=postgres"
  for _ in $(seq 30); do PGPASSWORD=$password psql "$connection" -qc "SELECT pg_sleep(10)" >/dev/null 2>&1 & done
  worked
  nothing_lost && stock_is_whole
}

# The disk runs full while people work, and is emptied again. What cannot be stored is said and not half there.
day_disk_full() {
  is_root || { say "  needs root, for a small disk in memory"; return 1; }
  DISK="$WORLD.disk"
  mkdir -p "$DISK"
  mount -t tmpfs -o size=260m tmpfs "$DISK"
  chmod 755 "$DISK"
  WORLD="$DISK/pg"
  end_more() {
    stop_cluster "$WORLD"
    umount -l "$DISK"
    WORLD=${DISK%.disk}
  }
  own_database min_wal_size=32MB max_wal_size=48MB || return 1
  serve_one
  serve_one
  work 40
  # All that is left, at once; the next pages of the log do not fit.
  dd if=/dev/zero of="$DISK/filler" bs=1M status=none 2>/dev/null || true
  sleep 10
  rm -f "$DISK/filler"
  cluster_runs "$WORLD" || start_cluster "$WORLD" min_wal_size=32MB max_wal_size=48MB
  worked
  nothing_lost && stock_is_whole
}
