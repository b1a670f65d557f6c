# The previous version serves while the tables are changed for this one; then both serve the same book, and the old one is
# stopped in order. Nobody is told to wait, nothing is lost. BEFORE=COMMIT takes another version than the one before.
day_old_beside_new() {
  OLD="$WORLD.old"
  local before third
  before=${BEFORE:-$(previous_version)} || { say "  the history here does not reach back to another version"; return 1; }
  say "  from $(git show "$before:Directory.Build.props" | version_in) to $(version_in <Directory.Build.props)"
  git worktree add -q --detach "$OLD" "$before"
  end_more() { git worktree remove --force "$OLD"; }
  quietly "Building the version before" dotnet publish "$OLD/src/Zenrik.Web" -c Release -o "$OLD/out/app" -v quiet
  quietly "Building its demo" dotnet publish "$OLD/src/Zenrik.Demo" -c Release -o "$OLD/out/demo" -v quiet
  chmod -R a+rX "$OLD" 2>/dev/null || true

  make_cluster "$WORLD"
  start_cluster "$WORLD" max_connections=200
  cluster_psql "$WORLD" postgres -qc "CREATE DATABASE zenrik"
  demo="$OLD/out/demo" prepare_book "$(connection_to "$WORLD" zenrik)" "$(web_connection_to "$WORLD" zenrik)" || return 1
  serve_one "$OLD/out/app"
  serve_one "$OLD/out/app"
  # Where the new one will be is known beforehand, as a proxy knows it.
  third=$(free_port)
  urls+=("http://127.0.0.1:$third")
  work "${UPGRADE_SECONDS:-180}"
  (export ConnectionStrings__Owner=$(connection_to "$WORLD" zenrik) ConnectionStrings__Workshop="$WEB" ASPNETCORE_ENVIRONMENT=Production
    run "$PWD/$app" Zenrik.Web prepare)
  sleep 4
  (export ConnectionStrings__Workshop="$WEB" ASPNETCORE_ENVIRONMENT=Production
    run "$PWD/$app" Zenrik.Web --urls "http://127.0.0.1:$third") >"$WORLD.web-new.log" 2>&1 &
  pids+=($!)
  for _ in $(seq 100); do port_is_free "$third" || break; sleep 0.5; done
  sleep 5
  say "  both serve: versions $(ask "SELECT string_agg(DISTINCT version, ', ') FROM instances") say so, and two older that do not"
  kill -TERM "${pids[0]}"
  sleep 3
  kill -TERM "${pids[1]}"
  worked
  say "  answers by the new one: $(figure "Object.values(w.byInstance)[2].answers")"
  [ "$(figure "Object.values(w.byInstance)[2].answers > 0")" = true ] || { tail -n 5 "$WORLD.web-new.log"; return 1; }
  nothing_lost && stock_is_whole
}

version_in() { sed -n 's:.*<Version>\(.*\)</Version>.*:\1:p'; }

# previous_version: the last commit of the version before this one.
previous_version() {
  local now bump
  now=$(version_in <Directory.Build.props)
  bump=$(git log --format=%H -S"<Version>$now</Version>" -- Directory.Build.props | tail -n 1)
  [ -n "$bump" ] && git rev-parse -q --verify "$bump^"
}
