# A private PostgreSQL cluster: its own folder, its own port on loopback, its own password. Never the system's.
# PostgreSQL refuses to run as root, so as root its programs run as the postgres user.

as_postgres() {
  if is_root; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

# Where a cluster can live: in .zenrik/, or, when the postgres user cannot reach into this folder, beside it in /var/tmp.
cluster_home() {
  local name=$1 home="$PWD/.zenrik"
  mkdir -p "$home"
  if is_root && ! runuser -u postgres -- test -x "$home" 2>/dev/null; then
    home="/var/tmp/zenrik-$(printf '%s' "$PWD" | cksum | cut -d' ' -f1)"
    mkdir -p "$home"
    chmod 755 "$home"
  fi
  echo "$home/$name"
}

# make_cluster DIR: initdb into a neighbouring folder, renamed only when whole, so that a killed start leaves no half.
make_cluster() {
  local dir=$1 new="$1.new" password
  [ -f "$dir/PG_VERSION" ] && [ -s "$dir.password" ] && return 0
  [ ! -d "$new" ] || say "An earlier start was stopped while making the database; it is made anew."
  [ ! -d "$dir" ] || { [ ! -e "$dir/postmaster.pid" ] || stop_cluster "$dir"; mv "$dir" "$dir.broken-$(date +%s)"; }
  rm -rf "$new"
  mkdir -p "$new"
  chmod 700 "$new"
  password=$(head -c 18 /dev/urandom | base64 | tr -d '+/=')
  (umask 077 && printf '%s' "$password" >"$dir.password")
  if is_root; then chown postgres "$new" "$dir.password"; fi
  as_postgres "$PG_BIN/initdb" -D "$new" -U zenrik --auth=scram-sha-256 --pwfile="$dir.password" \
    --encoding=UTF8 --locale=C.UTF-8 --no-instructions >"$dir.log" 2>&1 ||
    fail "The database could not be created." "See $dir.log; is the disk full?"
  mv "$new" "$dir"
}

cluster_runs() { as_postgres "$PG_BIN/pg_ctl" status -D "$1" >/dev/null 2>&1; }

# start_cluster DIR [setting=value…]: leaves the port in DIR.port. A workshop's book fits in memory or lies on a solid-state
# drive, where a page out of order costs hardly more than the next one.
start_cluster() {
  local dir=$1 options="" setting
  shift
  if cluster_runs "$dir" && [ -s "$dir.port" ]; then return 0; fi
  for setting in listen_addresses=127.0.0.1 unix_socket_directories= max_connections=200 random_page_cost=1.1 "$@"; do
    options+=" -c $setting"
  done
  # The same port as last time where it is free: programs that wait for the database find it again.
  if [ ! -s "$dir.port" ] || ! port_is_free "$(cat "$dir.port")"; then free_port >"$dir.port"; fi
  [ -e "$dir.log" ] || : >"$dir.log"
  chmod 600 "$dir.log" # statements that failed stand in it with their values
  if is_root; then chown postgres "$dir.log"; fi
  as_postgres "$PG_BIN/pg_ctl" start -w -t 60 -D "$dir" -l "$dir.log" -o "-p $(cat "$dir.port")$options" >/dev/null 2>&1 ||
    fail "PostgreSQL did not start." "Its own words are in $dir.log."
}

stop_cluster() {
  local dir=$1
  [ -d "$dir" ] || return 0
  cluster_runs "$dir" || return 0
  as_postgres "$PG_BIN/pg_ctl" stop -w -t 60 -m fast -D "$dir" >/dev/null 2>&1 || true
}

connection_to() { # DIR DATABASE
  printf 'Host=127.0.0.1;Port=%s;Username=zenrik;Password=%s;Database=%s' "$(cat "$1.port")" "$(cat "$1.password")" "$2"
}

# What the program itself signs in as: a role that owns nothing, with a password of its own.
web_connection_to() { # DIR DATABASE
  local dir=$1
  [ -s "$dir.web-password" ] || (umask 077 && head -c 18 /dev/urandom | base64 | tr -d '+/=' >"$dir.web-password")
  cluster_psql "$dir" postgres -c "DO \$\$ BEGIN
      IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'zenrik_web') THEN CREATE ROLE zenrik_web; END IF;
    END \$\$;
    ALTER ROLE zenrik_web LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD '$(cat "$dir.web-password")'" >/dev/null
  printf 'Host=127.0.0.1;Port=%s;Username=zenrik_web;Password=%s;Database=%s' "$(cat "$dir.port")" "$(cat "$dir.web-password")" "$2"
}

cluster_psql() { # DIR DATABASE psql-arguments…
  local dir=$1 database=$2
  shift 2
  PGPASSWORD=$(cat "$dir.password") "$PG_BIN/psql" -X -q -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$(cat "$dir.port")" -U zenrik -d "$database" "$@"
}
