# The database is lost after a backup that was taken while people worked. It is restored, by the commands the docs name, and
# everything that was answered before the backup began is there; what that took is said. RESTORED_FLEET makes the book large.
day_restored() {
  local owner file="$WORLD.backup" before since
  FLEET=${RESTORED_FLEET:-}
  own_database || return 1
  owner=$(connection_to "$WORLD" zenrik)
  serve_one
  say "  $(ask "SELECT count(*) FROM units") units, $(ask "SELECT pg_size_pretty(pg_database_size('zenrik'))")"
  work "${RESTORED_SECONDS:-$WORK_SECONDS}"
  before=$(ask "SELECT count(*) FROM done_requests")
  since=$SECONDS
  ./zenrik backup "$file" --connection "$owner" >"$WORLD.said" || { cat "$WORLD.said"; return 1; }
  say "  backed up under work, restored beside and compared in $((SECONDS - since)) s: $(du -h "$file" | cut -f1)"
  worked
  nothing_lost || return 1
  kill -KILL "${pids[0]}"
  wait "${pids[0]}" 2>/dev/null || true
  cluster_psql "$WORLD" postgres -qc 'DROP DATABASE zenrik WITH (FORCE)'

  since=$SECONDS
  ./zenrik restore "$file" --connection "$owner" >"$WORLD.said" || { cat "$WORLD.said"; return 1; }
  (export ConnectionStrings__Owner=$owner ConnectionStrings__Workshop=$WEB ASPNETCORE_ENVIRONMENT=Production
    run "$PWD/$app" Zenrik.Web prepare >/dev/null) || return 1
  serve_one
  ready "${urls[1]}" || { say "  the program does not serve what was restored"; return 1; }
  say "  restored and served again $((SECONDS - since)) s after somebody began"
  [ "$(ask "SELECT count(*) FROM done_requests")" -ge "$before" ] || { say "  acts from before the backup are missing"; return 1; }
  stock_is_whole
}
