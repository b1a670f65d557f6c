# PgBouncer in transaction mode between programs and database: more people than connections. News come by a direct one.
day_pooler() {
  [ -n "$(command -v pgbouncer)" ] || install_packages "the pooler of this day" pgbouncer
  own_database || return 1
  local port bouncer="$WORLD.bouncer" direct=$WEB user password
  port=$(free_port)
  user=$(sed -n 's/.*Username=\([^;]*\).*/\1/p' <<<"$WEB")
  password=$(sed -n 's/.*Password=\([^;]*\).*/\1/p' <<<"$WEB")
  mkdir -p "$bouncer"
  cat >"$bouncer/pgbouncer.ini" <<INI
[databases]
zenrik = host=127.0.0.1 port=$(cat "$WORLD.port") dbname=zenrik
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = $port
unix_socket_dir =
auth_type = scram-sha-256
auth_file = $bouncer/users
pool_mode = transaction
default_pool_size = 6
ignore_startup_parameters = extra_float_digits
logfile = $bouncer/log
INI
  printf '"%s" "%s"\n' "$user" "$password" >"$bouncer/users"
  if is_root; then chown -R postgres "$bouncer"; fi
  as_postgres "$(command -v pgbouncer)" -q "$bouncer/pgbouncer.ini" >"$bouncer/said" 2>&1 &
  pids+=($!)
  for _ in $(seq 50); do port_is_free "$port" || break; sleep 0.1; done
  WEB="Host=127.0.0.1;Port=$port;Username=$user;Password=$password;Database=zenrik;No Reset On Close=true;Max Auto Prepare=0"
  export ConnectionStrings__News=$direct
  serve_one
  serve_one
  work
  say "  $(ask "SELECT count(*) FROM pg_stat_activity WHERE usename = '$user' AND query NOT LIKE 'LISTEN%'") connections at the database for $PEOPLE people and two programs; $(ask "SELECT count(*) FROM pg_stat_activity WHERE query LIKE 'LISTEN%'") listen"
  worked
  nothing_lost && stock_is_whole
}
