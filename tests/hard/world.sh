# A world to break: a cluster with its safety on, the demo's book, and programs of the published build.

begin_world() {
  WORLD=$(cluster_home "hard-$$-$RANDOM")
  pids=()
  urls=()
}

end_world() {
  local pid
  for pid in "${pids[@]:-}"; do [ -z "$pid" ] || { kill -KILL "$pid" && wait "$pid"; } 2>/dev/null || true; done
  ! declare -F end_more >/dev/null || end_more
  stop_cluster "$WORLD"
  # What was started as another user outlives whoever started it.
  pkill -KILL -f "$WORLD" || true
  rm -rf "$WORLD"* || true
}

# own_database [setting=value…]: one PostgreSQL, as ./zenrik start makes it.
own_database() {
  make_cluster "$WORLD"
  start_cluster "$WORLD" max_connections=200 "$@"
  cluster_psql "$WORLD" postgres -qc "CREATE DATABASE zenrik"
  prepare_book "$(connection_to "$WORLD" zenrik)" "$(web_connection_to "$WORLD" zenrik)"
}

# prepare_book OWNER WEB: tables, rights and the demo's world, with FLEET units more; what the people work on is chosen.
prepare_book() {
  WEB=$2
  (export ConnectionStrings__Owner=$1 ConnectionStrings__Workshop=$2 ASPNETCORE_ENVIRONMENT=Production
    run "$(readlink -f "$demo")" Zenrik.Demo prepare ${FLEET:+--fleet=$FLEET} >/dev/null) || return 1
  REPAIRS=$(ask "SELECT string_agg('R-' || number, ',') FROM (SELECT number FROM repairs WHERE closed_at IS NULL ORDER BY number LIMIT 20) r")
  ITEMS=$(ask "SELECT string_agg(code, ',') FROM (SELECT i.code FROM items i WHERE i.bin_kind = 'Shelf'
    AND NOT EXISTS (SELECT FROM reservations r WHERE r.item_id = i.id) ORDER BY code LIMIT 30) i")
  BINS=$(ask "SELECT string_agg(code, ',') FROM (SELECT code FROM bins WHERE kind = 'Shelf' ORDER BY code LIMIT 6) b")
}

# ask SQL: of the world's book, wherever it is.
ask() {
  # By the file of input: thousands of numbers are more than an argument holds.
  if [ "${ASK_AT:-own}" = cluster ]; then psql_primary zenrik -qtAX -f -; else cluster_psql "$WORLD" zenrik -qtAX -f -; fi <<<"$1"
}

# serve_one [FOLDER]: one more program on the book; its address is added to urls, its number to pids.
serve_one() {
  local port pid
  port=$(free_port)
  (export ConnectionStrings__Workshop="$WEB" ASPNETCORE_ENVIRONMENT=Production
    run "${1:-$PWD/$app}" Zenrik.Web --urls "http://127.0.0.1:$port") >"$WORLD.web-$port.log" 2>&1 &
  pid=$!
  for _ in $(seq 300); do
    ! port_is_free "$port" && break
    kill -0 "$pid" 2>/dev/null || { cat "$WORLD.web-$port.log" >&2; return 1; }
    sleep 0.1
  done
  pids+=("$pid")
  urls+=("http://127.0.0.1:$port")
}

# ready URL [SECONDS]: whether a program says within that time that it serves.
ready() {
  local until=$((SECONDS + ${2:-30}))
  while :; do
    curl -fsS -m 2 -o /dev/null "$1/readyz" 2>/dev/null && return 0
    [ "$SECONDS" -lt "$until" ] || return 1
    sleep 0.3
  done
}

# work [SECONDS]: people begin to work in the background; WORKING is waited for by worked.
work() {
  node tests/hard/work.mjs --for "${1:-$WORK_SECONDS}" --people "$PEOPLE" --urls "$(IFS=,; echo "${urls[*]}")" \
    --repairs "$REPAIRS" --items "$ITEMS" --bins "$BINS" --out "$WORLD.work.json" &
  WORKING=$!
  until [ -f "$WORLD.work.json.begun" ] || ! kill -0 "$WORKING" 2>/dev/null; do sleep 0.1; done
  sleep "$(awk "BEGIN { s = ${1:-$WORK_SECONDS} / 3; print (s > 12 ? 12 : s) }")"
}

worked() { wait "$WORKING"; }
