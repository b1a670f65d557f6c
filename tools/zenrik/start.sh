state=.zenrik
app=$state/app
demo=$state/demo

# Not local: what the script has started must be known when it ends, however it ends.
own=""
pid=""
demo_pid=""

leave() {
  [ -z "$pid" ] || end_program "$pid"
  [ -z "$demo_pid" ] || end_program "$demo_pid"
  [ -z "$own" ] || stop_cluster "$own"
  rm -f "$state/web.pid" "$state/demo.pid"
}

start() {
  local port=5217 connection="" owner="" empty="" fleet=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --port) [[ ${2:-} =~ ^[0-9]+$ ]] && [ "$2" -le 65535 ] || fail "--port wants a number up to 65535."; port=$2; shift 2 ;;
      --connection) [ -n "${2:-}" ] || fail "--connection wants a PostgreSQL connection string."; connection=$2; shift 2 ;;
      --owner) [ -n "${2:-}" ] || fail "--owner wants the connection string of the tables' owner."; owner=$2; shift 2 ;;
      --empty) empty=--empty; shift ;;
      --fleet) [[ ${2:-} =~ ^[1-9][0-9]{0,6}$ ]] || fail "--fleet wants a number of units, at most a few hundred thousand."; fleet=--fleet=$2; shift 2 ;;
      *) fail "start does not know \"$1\"." "It takes --port N, --empty, --fleet N, --connection \"…\" and --owner \"…\"." ;;
    esac
  done

  mkdir -p "$state"
  exec 9>"$state/lock"
  flock -n 9 || fail "Zenrik is already starting or running from this folder." "Open it in the browser, or run ./zenrik stop first."
  [ ! -s "$state/web.pid" ] || ! is_ours "$(cat "$state/web.pid")" ||
    fail "An earlier start was killed, but its program still runs." "Run ./zenrik stop, then start again; nothing is lost."
  port_is_free "$port" || fail "Port $port is taken by another program." "Stop that program, or choose another port: ./zenrik start --port $((port + 1))"

  trap leave EXIT
  trap 'exit 130' INT
  trap 'exit 143' TERM HUP
  need_dotnet
  build_programs
  if [ -z "$connection" ]; then
    need_postgres
    own=$(cluster_home pg)
    make_cluster "$own" 9>&-
    start_cluster "$own" 9>&-
    cluster_psql "$own" postgres -tAc "SELECT 1 FROM pg_database WHERE datname = 'zenrik'" | grep -q 1 ||
      cluster_psql "$own" postgres -c "CREATE DATABASE zenrik"
    owner=$(connection_to "$own" zenrik)
    connection=$(web_connection_to "$own" zenrik)
  fi

  export ConnectionStrings__Workshop="$connection" ASPNETCORE_ENVIRONMENT=Production
  local log="$state/prepare.log"
  if ! ([ -z "$owner" ] || export ConnectionStrings__Owner="$owner"; run "$demo" Zenrik.Demo prepare $empty $fleet) 2>"$log"; then
    tail -n 3 "$log" >&2
    fail "The database could not be prepared." "If it is your own, look at the address and the rights in --connection; all of it is in $log."
  fi

  serve "$app" Zenrik.Web --urls "http://127.0.0.1:$port" 9>&- &
  pid=$!
  echo "$pid" >"$state/web.pid"
  for _ in $(seq 300); do
    kill -0 "$pid" 2>/dev/null || break
    if ! port_is_free "$port"; then
      start_demo "$port"
      say "Zenrik is at http://127.0.0.1:$port   (Ctrl-C stops it, the database too)"
      wait "$pid" || true
      return
    fi
    sleep 0.1
  done
  fail "The program did not start to listen on port $port." "Its last words stand above."
}

# The demo's suppliers and machines, beside the product; ends by itself at once where no demo world is loaded.
start_demo() {
  local port=$(($1 + 1))
  port_is_free "$port" || port=$(free_port)
  serve "$demo" Zenrik.Demo --urls "http://127.0.0.1:$port" --product "http://127.0.0.1:$1" >"$state/demo.log" 2>&1 9>&- &
  demo_pid=$!
  echo "$demo_pid" >"$state/demo.pid"
  for _ in $(seq 100); do
    kill -0 "$demo_pid" 2>/dev/null || return 0
    if ! port_is_free "$port"; then
      say "The demo's machines and suppliers are at http://127.0.0.1:$port"
      return
    fi
    sleep 0.1
  done
}

stop() {
  [ ! -s "$state/web.pid" ] || pid=$(cat "$state/web.pid")
  [ ! -s "$state/demo.pid" ] || demo_pid=$(cat "$state/demo.pid")
  [ -z "$demo_pid" ] || ! is_ours "$demo_pid" || end_program "$demo_pid"
  if [ -n "$pid" ] && is_ours "$pid"; then
    end_program "$pid"
    say "The program is stopped."
  else
    say "No program was running from this folder."
  fi
  rm -f "$state/web.pid" "$state/demo.pid"
  if PG_BIN=$(postgres_bin); then
    own=$(cluster_home pg)
    if [ -d "$own" ] && cluster_runs "$own"; then stop_cluster "$own"; fi
    say "The database is stopped cleanly."
  fi
}

# Builds only when something changed since the last build. Published, so that files are served compressed.
build_programs() {
  local dll="$demo/Zenrik.Demo.dll"
  if [ -f "$dll" ] && [ -z "$(find src data Directory.*.props global.json -newer "$dll" -type f -not -path '*/obj/*' -not -path '*/bin/*' -print -quit)" ]; then
    return
  fi
  quietly "Building" dotnet publish src/Zenrik.Web -c Release -o "$app" -v quiet
  quietly "Building the demo" dotnet publish src/Zenrik.Demo -c Release -o "$demo" -v quiet
  touch "$dll"
}

# Asks the program to finish what it is doing; after 15 seconds ends it, which loses nothing: an act is saved or it is not.
# TERM, since a program started in the background is deaf to INT.
end_program() {
  kill -TERM "$1" 2>/dev/null || return 0
  for _ in $(seq 150); do
    is_ours "$1" || return 0
    sleep 0.1
  done
  kill -KILL "$1" 2>/dev/null || true
}

# A pid file may be stale and its number given to another program. A program that has ended has no command line left.
is_ours() { grep -aqsE 'Zenrik[.](Web|Demo)' "/proc/$1/cmdline"; }

# run FOLDER PROGRAM arguments…: becomes the program; call it in a subshell or in the background.
run() { cd "$1" && exec dotnet "$2.dll" "${@:3}"; }

# The same as somebody with no rights on this machine, when started by root and such a one exists who can read the program.
serve() {
  local folder=$1 program=$2 user
  if is_root; then
    for user in www-data nobody; do
      if id "$user" >/dev/null 2>&1 && (cd / && runuser -u "$user" -- test -r "$OLDPWD/$folder/$program.dll"); then
        export HOME=/nonexistent DOTNET_CLI_HOME=/tmp
        cd "$folder" && exec setpriv --reuid "$user" --regid "$(id -g "$user")" --init-groups --no-new-privs dotnet "$program.dll" "${@:3}"
      fi
    done
  fi
  run "$@"
}
