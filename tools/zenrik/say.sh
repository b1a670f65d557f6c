say() { printf '%s\n' "$*"; }

# What happened, then the remedy; never a trace.
fail() {
  printf 'zenrik: %s\n' "$1" >&2
  [ $# -lt 2 ] || printf '        %s\n' "$2" >&2
  exit 1
}

# Runs something long with its output kept aside; shows the end of it only when it fails.
quietly() {
  local what=$1 log
  shift
  log=$(mktemp)
  say "$what …"
  if ! "$@" >"$log" 2>&1; then
    tail -n 30 "$log" >&2
    rm -f "$log"
    fail "$what failed; the lines above say why." "Put that right and run the command again; it picks up where it stopped."
  fi
  rm -f "$log"
}

port_is_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

free_port() {
  local port
  for port in $(shuf -i 20000-29999 -n 50); do
    if port_is_free "$port"; then echo "$port"; return; fi
  done
  fail "No free port was found between 20000 and 29999." "Close something that listens there and try again."
}

is_root() { [ "$(id -u)" -eq 0 ]; }
