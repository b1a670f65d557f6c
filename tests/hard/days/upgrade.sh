# The previous version serves while the tables are changed for this one; then both serve the same book, and the old one is
# stopped in order. Nobody is told to wait, nothing is lost. BEFORE=COMMIT takes another version than the one before.
day_old_beside_new() {
  local old="$WORLD.old" before
  before=${BEFORE:-$(previous_version)} || { say "  the history here does not reach back to another version"; return 1; }
  say "  from $(git show "$before:Directory.Build.props" | version_in) to $(version_in <Directory.Build.props)"
  git worktree add -q --detach "$old" "$before"
  end_more() { git worktree remove --force "$old"; }
  quietly "Building the version before" dotnet publish "$old/src/Zenrik.Web" -c Release -o "$old/out/app" -v quiet
  quietly "Building its demo" dotnet publish "$old/src/Zenrik.Demo" -c Release -o "$old/out/demo" -v quiet
  chmod -R a+rX "$old" 2>/dev/null || true

  make_cluster "$WORLD"
  start_cluster "$WORLD" max_connections=200
  cluster_psql "$WORLD" postgres -qc "CREATE DATABASE zenrik"
  demo="$old/out/demo" prepare_book "$(connection_to "$WORLD" zenrik)" "$(web_connection_to "$WORLD" zenrik)"
  serve_one "$old/out/app"
  serve_one "$old/out/app"
  # Where the new one will be is known beforehand, as a proxy knows it.
  local third
  third=$(free_port)
  urls+=("http://127.0.0.1:$third")
  work 45
  (export ConnectionStrings__Owner=$(connection_to "$WORLD" zenrik) ConnectionStrings__Workshop="$WEB" ASPNETCORE_ENVIRONMENT=Production
    run "$PWD/$app" Zenrik.Web prepare)
  sleep 4
  (export ConnectionStrings__Workshop="$WEB" ASPNETCORE_ENVIRONMENT=Production
    run "$PWD/$app" Zenrik.Web --urls "http://127.0.0.1:$third") >"$WORLD.web-new.log" 2>&1 &
  pids+=($!)
  sleep 6
  say "  both serve: versions $(ask "SELECT string_agg(DISTINCT version, ', ') FROM instances") say so, and two older that do not"
  kill -TERM "${pids[0]}"
  sleep 3
  kill -TERM "${pids[1]}"
  worked
  say "  answers by the new one: $(figure "Object.values(w.byInstance)[2].answers")"
  nothing_lost && stock_is_whole && [ "$(figure "Object.values(w.byInstance)[2].answers > 0")" = true ]
}

version_in() { sed -n 's:.*<Version>\(.*\)</Version>.*:\1:p'; }

# previous_version: the last commit of the version before this one.
previous_version() {
  local now bump
  now=$(version_in <Directory.Build.props)
  bump=$(git log --format=%H -S"<Version>$now</Version>" -- Directory.Build.props | tail -n 1)
  [ -n "$bump" ] && git rev-parse -q --verify "$bump^"
}
